"""Own words for fixed texts: what is refused, and what is filled in."""

import unittest

from pydantic import ValidationError

from core.reading import Form
from core.wording import FORM_TEXTS, LIST_TEXTS, as_formats, check_words, own_text, texts_of


class Words(unittest.TestCase):
    def codes(self, words: dict[str, str], about: str = "list") -> list[tuple[str, str]]:
        return [(one.code, one.place) for one in check_words(words, about)]  # type: ignore[arg-type]

    def test_each_text_has_one_key_and_one_usual_text(self) -> None:
        for texts in (FORM_TEXTS, LIST_TEXTS):
            self.assertEqual(len({one.key for one in texts}), len(texts))
            self.assertEqual(len({one.usual for one in texts}), len(texts))
        self.assertEqual(texts_of("form")[0].key, "optional")

    def test_tokens_that_have_a_value_there_are_taken(self) -> None:
        self.assertEqual(self.codes({"why": "You get {{list}} because you asked."}), [])
        self.assertEqual(self.codes({"why": "You asked for it."}), [])
        self.assertEqual(self.codes({"left_list": "{{ address }} left {{ list }}"}), [])

    def test_what_has_no_value_is_refused_with_what_has(self) -> None:
        for own in ("{{ name }}", "{{ list", "list }}", "{{ list.name }}", "{{ }}", "{{{{ list }}"):
            (problem,) = check_words({"why": own}, "list")
            self.assertEqual((problem.code, problem.place), ("unknown_token", "words.why"), own)
            self.assertIn("{{ list }}", problem.fix)
        (problem,) = check_words({"optional": "{{ list }}"}, "form")
        self.assertEqual(problem.fix, "Write it out.")

    def test_unknown_keys_and_long_texts(self) -> None:
        self.assertEqual(self.codes({"whatever": "x"}), [("unknown_text", "words.whatever")])
        self.assertEqual(self.codes({"why": "x" * 401}), [("text_too_long", "words.why")])
        self.assertEqual(self.codes({"why": "x" * 400}), [])
        self.assertEqual(self.codes({"why": "x"}, "form"), [("unknown_text", "words.why")])

    def test_what_cannot_be_seen_is_as_good_as_nothing(self) -> None:
        """By Unicode's general categories, and the letters that have no shape."""
        usual = {one.key: one for one in LIST_TEXTS}
        for own in (
            "",
            " ",
            "\u200b",
            "\u00a0\ufeff",
            "\u202e\u2066",
            "\u0301",
            "\u3164",
            "\u2800 ",
        ):
            self.assertEqual(own_text({"unsubscribe": own}, usual["unsubscribe"]), "", ascii(own))
            self.assertEqual(as_formats({"unsubscribe": own}, "list"), {}, ascii(own))
        for own in ("x", "👋", "退", "…", "é", "\u200bx"):
            self.assertEqual(own_text({"unsubscribe": own}, usual["unsubscribe"]), own)

    def test_a_token_without_a_value_stays_as_it_was_typed(self) -> None:
        """A draft is shown before pre-flight lets it through."""
        for own in ("{{ name }} and {{ list }}", "{{list", "%(name)s {{ }}"):
            (format_,) = as_formats({"why": own}, "list").values()
            self.assertEqual(format_ % {"list": "News"}, own.replace("{{ list }}", "News"))

    def test_a_form_takes_no_heap_of_them(self) -> None:
        self.assertEqual(len(Form(words={str(one): "x" for one in range(200)}).words), 200)
        for words in ({str(one): "x" for one in range(201)}, {"optional": "x" * 2001}):
            with self.assertRaises(ValidationError):
                Form(words=words)

    def test_filled_in_as_written(self) -> None:
        """Percent signs, braces and other formats of a member's own mean nothing."""
        formats = as_formats(
            {
                "why": "100% {{list}} %(name)s %s {0}",
                "unsubscribe": "100% gone",
                "own_page": "   ",
                "gone": "x",
            },
            "list",
        )
        usual = {one.key: one.usual for one in LIST_TEXTS}
        self.assertEqual(set(formats), {usual["why"], usual["unsubscribe"]})
        filled = formats[usual["why"]] % {"list": "News"}
        self.assertEqual(filled, "100% News %(name)s %s {0}")
        self.assertEqual(formats[usual["unsubscribe"]], "100% gone")
