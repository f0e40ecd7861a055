"""Languages, kept as BCP 47 tags (RFC 5646): `pt`, `pt-BR`, `zh-Hant`."""

from functools import cache

import pycountry
from babel import Locale, UnknownLocaleError

from ..documents import Problem, folded
from .countries import LANGUAGES, read_country

_RIGHT_TO_LEFT = {"ar", "ckb", "dv", "fa", "he", "ps", "sd", "ug", "ur", "yi"}
"""Languages whose script runs from right to left."""


def read_language(text: str) -> str | Problem:
    """The tag in its usual case, from a tag or from the name of a language."""
    named = _names().get(folded(text))
    return named or _tag(text) or _with_region(text) or _unknown(text)


def _with_region(text: str) -> str | None:
    """A name as `language_name` says it, with a script or a region: Portuguese (Brazil)."""
    name, _, more = text.strip().removesuffix(")").partition(" (")
    base = _names().get(folded(name))
    if base is None or not more:
        return None
    subtags = []
    for part in more.split(", "):
        script = _scripts().get(folded(part))
        region = read_country(part)
        if script is None and not isinstance(region, str):
            return None
        subtags.append(script or str(region))
    return "-".join([base, *subtags])


@cache
def _scripts() -> dict[str, str]:
    """Codes of scripts (ISO 15924) by their English names, as they stand beside a language."""
    return {
        folded(str(name).replace(" Han", "")): code for code, name in Locale("en").scripts.items()
    }


def language_name(tag: str) -> str:
    """The English name of the language, or the tag."""
    try:
        return Locale.parse(tag, sep="-").get_display_name("en") or tag
    except (ValueError, UnknownLocaleError):
        return tag


@cache
def language_names() -> dict[str, str]:
    """English names by tag."""
    return {tag.replace("_", "-"): str(name) for tag, name in Locale("en").languages.items()}


def _tag(text: str) -> str | None:
    """A tag of language, script and region (RFC 5646 2.1, 2.1.1 for the case of each)."""
    first, *rest = text.strip().replace("_", "-").split("-")
    if not first.isascii() or not first.isalpha() or len(first) not in (2, 3) or len(rest) > 2:
        return None
    key = {"alpha_2": first.lower()} if len(first) == 2 else {"alpha_3": first.lower()}
    language = pycountry.languages.get(**key)
    if language is None:
        return None
    parts = [getattr(language, "alpha_2", language.alpha_3)]
    for part in rest:
        if len(part) == 4 and len(parts) == 1:
            if pycountry.scripts.get(alpha_4=part.title()) is None:
                return None
            parts.append(part.title())
        elif len(part) == 2 and pycountry.countries.get(alpha_2=part.upper()):
            parts.append(part.upper())
        elif part in ("419", "001"):
            parts.append(part)
        else:
            return None
    return "-".join(parts)


@cache
def _names() -> dict[str, str]:
    """Tags by folded name: in English, in the other languages, and in the language itself."""
    meant: dict[str, set[str]] = {}
    for language in LANGUAGES:
        for tag, name in Locale(language).languages.items():
            if len(str(tag)) == 2:
                meant.setdefault(folded(str(name)), set()).add(str(tag))
    for tag in map(str, Locale("en").languages):
        try:
            own = Locale.parse(tag).get_language_name(tag) if len(tag) == 2 else None
        except (ValueError, UnknownLocaleError):
            continue
        if own:
            meant.setdefault(folded(own), set()).add(tag)
    return {name: tags.pop() for name, tags in meant.items() if len(tags) == 1}


def _unknown(text: str) -> Problem:
    return Problem(
        code="not_a_language",
        sentence=f"“{text.strip()[:80]}” is not a language.",
        fix="Write its name, or its code, like pt or pt-BR.",
    )


def direction(language: str) -> str:
    """In which direction a language is written: ltr or rtl."""
    return "rtl" if language.partition("-")[0].lower() in _RIGHT_TO_LEFT else "ltr"
