"""Names of people: split into given and family name, and set right where they shout."""

from functools import lru_cache
from typing import Literal

from nameparser import HumanName
from nameparser.config import CONSTANTS

from ..documents import Problem
from .text import read_text


def read_name(
    text: str, part: Literal["whole", "first", "last"], case_right: bool
) -> str | Problem:
    """The part of a name that is asked for; a single word is a given name.

    `case_right` sets right a name in one case only ("INES", "ines"); one that already
    mixes cases ("MacDonald", "van der Berg") is the person's own spelling and stays.
    """
    whole = read_text(text)
    if isinstance(whole, Problem) or not whole:
        return whole
    return _parts(whole, case_right and whole in (whole.upper(), whole.lower()))[part]


def _parts(whole: str, set_right: bool) -> dict[str, str]:
    words = whole.split(" ")
    if len(words) <= 2 and all(_is_plain(word) for word in words):
        if set_right:
            words = [word.capitalize() for word in words]
        last = words[1] if len(words) == 2 else ""
        return {"first": words[0], "last": last, "whole": " ".join(words)}
    return _parsed(whole, set_right)


def _is_plain(word: str) -> bool:
    """Letters alone, and nothing that is more than a name: no title, particle, suffix, initial, Mac."""
    low = word.lower()
    return (
        word.isascii()
        and word.isalpha()
        and len(low) > 2
        and not low.startswith(("mc", "mac"))
        and low not in _SPECIAL
    )


_SPECIAL = frozenset(
    word.lower().replace(".", "")
    for words in (
        CONSTANTS.titles,
        CONSTANTS.first_name_titles,
        CONSTANTS.prefixes,
        CONSTANTS.non_first_name_prefixes,
        CONSTANTS.bound_first_names,
        CONSTANTS.suffix_acronyms,
        CONSTANTS.suffix_acronyms_ambiguous,
        CONSTANTS.suffix_not_acronyms,
        CONSTANTS.conjunctions,
        CONSTANTS.capitalization_exceptions,
    )
    for word in words
)


@lru_cache(maxsize=16_384)
def _parsed(whole: str, set_right: bool) -> dict[str, str]:
    """The parts of a name; kept for a while, since two lines often read one answer,
    and many people have one name."""
    name = HumanName(whole)
    if set_right:
        name.capitalize(force=True)
    return {
        "first": " ".join(filter(None, (name.first, name.middle))),
        "last": " ".join(filter(None, (name.last, name.suffix))),
        "whole": " ".join(
            filter(None, (name.title, name.first, name.middle, name.last, name.suffix))
        ),
    }
