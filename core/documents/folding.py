"""Comparing texts the way people do: without case, accents and outer space."""

import unicodedata


def folded(text: str) -> str:
    """The text without accents, case and outer or doubled space, for comparing only."""
    if text.isascii():
        return " ".join(text.lower().split())
    decomposed = unicodedata.normalize("NFKD", text)
    bare = "".join(mark for mark in decomposed if not unicodedata.combining(mark))
    return " ".join(bare.casefold().split())


def bare_name(name: str) -> str:
    """A name of an input without case, accents, spaces, hyphens, underscores and a plural s."""
    bare = "".join(sign for sign in folded(name) if sign not in " -_")
    return bare[:-1] if len(bare) > 3 and bare.endswith("s") else bare


def near_miss(name: str, candidates: list[str]) -> str | None:
    """The candidate that `name` probably means though it is not the same, or None.

    Names of inputs are compared exactly (WHATWG HTML, form submission), so a name that
    differs in case, space, hyphen, underscore, accent or plural alone misses in silence.
    """
    if name in candidates:
        return None
    bare = bare_name(name)
    return next((other for other in candidates if bare_name(other) == bare), None)
