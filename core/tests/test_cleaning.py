"""What comes from outside, before it is kept."""

import json
import unittest

from core.documents import DEEPEST, TooDeep, read_json
from core.reading import answers_of


def nested(depth: int) -> str:
    """Objects in objects, so many."""
    return '{"a":' * depth + "1" + "}" * depth


class Depth(unittest.TestCase):
    def test_as_deep_as_is_allowed_and_no_deeper(self) -> None:
        for text in (nested(DEEPEST), "[" * DEEPEST + "]" * DEEPEST, "{}", "[]", '"a"', "1"):
            self.assertEqual(read_json(text), json.loads(text))
        wide = json.dumps([{"a": [number]} for number in range(5_000)])
        self.assertEqual(len(read_json(wide)), 5_000)
        # The last of many is the one that goes too deep.
        uneven = "[" + "[]," * 500 + nested(DEEPEST) + "]"
        for text in (nested(DEEPEST + 1), "[" * 101 + "]" * 101, "[" * 100_000, uneven):
            with self.assertRaises(TooDeep):
                read_json(text)

    def test_what_is_read_can_be_written(self) -> None:
        """Each level takes some of Python's own when it is written again."""
        self.assertEqual(json.loads(json.dumps(read_json(nested(DEEPEST)))), read_json(nested(100)))

    def test_answers_that_are_nested(self) -> None:
        kept = answers_of(nested(DEEPEST).encode())
        assert isinstance(kept, tuple)
        [(_, text)] = kept
        self.assertEqual(text, nested(79).replace(":1", ': "1"').replace('":{', '": {'))
        problem = answers_of(nested(DEEPEST + 1).encode())
        self.assertEqual(getattr(problem, "code", ""), "too_deep")
