"""Names of people: split into given and family name, and set right where they shout."""

from typing import Literal

from nameparser import HumanName

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
    name = HumanName(whole)
    if case_right and whole in (whole.upper(), whole.lower()):
        name.capitalize(force=True)
    if part == "first":
        return " ".join(filter(None, (name.first, name.middle)))
    if part == "last":
        return " ".join(filter(None, (name.last, name.suffix)))
    return " ".join(filter(None, (name.title, name.first, name.middle, name.last, name.suffix)))
