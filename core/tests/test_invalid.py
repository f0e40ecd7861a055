"""What pydantic finds, in words of ours: every type of error that it has (its own list, at run time)."""

from typing import Any, Literal
from unittest import TestCase
from uuid import UUID

from pydantic import BaseModel, Field, ValidationError, field_validator
from pydantic_core._pydantic_core import list_all_errors

from core.documents import invalid_in_words

PARSER = ("Input should", "validation", "pydantic", "instance of", "valid integer", "Value error")


class Sent(BaseModel):
    name: str = Field(max_length=5)
    count: int = Field(ge=2, le=9)
    of: UUID
    kind: Literal["moon", "dome"]
    many: list[str] = Field(max_length=1)
    own: str = "fine"

    @field_validator("own")
    @classmethod
    def _fine(cls, value: str) -> str:
        if value != "fine":
            raise ValueError("a dome is not a moon")
        return value


class Words(TestCase):
    def said(self, **more: Any) -> dict[str, str]:
        good = {"name": "a", "count": 3, "of": str(UUID(int=1)), "kind": "moon", "many": []}
        try:
            Sent.model_validate({**good, **more})
        except ValidationError as error:
            return {str(one["loc"][0]): invalid_in_words(one)[0] for one in error.errors()}
        return {}

    def test_each_with_its_own_bounds(self) -> None:
        self.assertEqual(
            self.said(name="a name", count=1, of="x", kind="sun", many=["a", "b"], own="moon"),
            {
                "name": "This is longer than 5 characters.",
                "count": "This must be at least 2.",
                "of": "This is not a valid id.",
                "kind": "This must be 'moon' or 'dome'.",
                "many": "At most 1 are allowed.",
                "own": "A dome is not a moon.",
            },
        )
        self.assertEqual(self.said(count="many"), {"count": "This is not a whole number."})
        self.assertEqual(self.said(), {})

    def test_every_type_of_error_has_words_that_are_not_the_parsers(self) -> None:
        types = list_all_errors()
        self.assertGreater(len(types), 80)
        unnamed = set()
        for one in types:
            error = {
                "type": one["type"],
                "msg": one["example_message_python"],
                "ctx": one["example_context"],
            }
            if one["type"] in ("value_error", "assertion_error"):
                error["ctx"] = {"error": "a dome is not a moon"}
            sentence, _ = invalid_in_words(error)
            self.assertRegex(sentence, r"^[A-Z].*\.$", one["type"])
            for words in PARSER:
                self.assertNotIn(words, sentence, one["type"])
            if sentence == "This cannot be read.":
                unnamed.add(one["type"])
        # Of what JSON cannot hold, or what no document of ours asks for.
        self.assertLessEqual(
            unnamed,
            {
                "arguments_type", "callable_type", "complex_str_parsing", "complex_type",
                "default_factory_not_called", "frozen_field", "frozen_instance", "get_attribute_error",
                "invalid_key", "is_instance_of", "is_subclass_of", "missing_argument",
                "missing_keyword_only_argument", "missing_positional_only_argument",
                "missing_sentinel_error", "multiple_argument_values", "needs_python_object",
                "no_such_attribute", "unexpected_keyword_argument", "unexpected_positional_argument",
                "json_type", "frozen_dict_type", "named_tuple_type", "fraction_type", "fraction_parsing",
                "deque_type", "ellipsis_error", "counter_type", "iteration_error", "ordered_dict_type",
            },
        )  # fmt: skip
