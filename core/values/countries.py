"""Countries: ISO 3166-1 by code or by name, in the languages that visitors write them in."""

import gettext
from collections import defaultdict
from contextlib import suppress
from functools import cache

import pycountry
from babel import Locale, UnknownLocaleError
from babel.languages import get_official_languages

from ..documents import Problem, folded

LANGUAGES = ("en", "de", "fr", "es", "it", "nl", "pt", "pl", "sv", "da", "cs", "tr")

# What people write that neither ISO 3166 nor CLDR lists (common practice).
_ALSO = {
    "uk": "GB",
    "great britain": "GB",
    "britain": "GB",
    "england": "GB",
    "scotland": "GB",
    "wales": "GB",
    "northern ireland": "GB",
    "us": "US",
    "u.s.": "US",
    "u.s.a.": "US",
    "america": "US",
    "holland": "NL",
    "czech republic": "CZ",
    "turkey": "TR",
    "macedonia": "MK",
    "ivory coast": "CI",
}


def read_country(text: str) -> str | Problem:
    """The alpha-2 code (ISO 3166-1) that `text` names by code or by name."""
    wanted = folded(text)
    by_code = pycountry.countries.get(alpha_2=wanted.upper()) if len(wanted) == 2 else None
    by_code = by_code or (
        pycountry.countries.get(alpha_3=wanted.upper()) if len(wanted) == 3 else None
    )
    if by_code is not None:
        return str(by_code.alpha_2)
    found = _ALSO.get(wanted) or _names().get(wanted)
    if found:
        return found
    return Problem(
        code="not_a_country",
        sentence=f"“{text.strip()[:80]}” is not the name or the code of one country.",
        fix="Write its usual name, or its two-letter code, like PT.",
    )


def country_name(code: str) -> str:
    """The usual English name of the country with this alpha-2 code, or the code."""
    return str(Locale("en").territories.get(code, code))


@cache
def country_names(language: str = "en") -> dict[str, str]:
    """Names by alpha-2 code in a language of CLDR's, in the order of the names without accents."""
    territories = Locale(language).territories
    names = {
        country.alpha_2: territories.get(country.alpha_2) or country_name(country.alpha_2)
        for country in pycountry.countries
    }
    return dict(sorted(names.items(), key=lambda one: folded(one[1])))


@cache
def _names() -> dict[str, str]:
    """Codes by folded name; a name that could mean two countries is left out."""
    meant: dict[str, set[str]] = defaultdict(set)
    for country in pycountry.countries:
        for name in ("name", "official_name", "common_name"):
            meant[folded(getattr(country, name, ""))].add(country.alpha_2)
    for language in LANGUAGES:
        territories = Locale(language).territories
        for country in pycountry.countries:
            meant[folded(territories.get(country.alpha_2, ""))].add(country.alpha_2)
        if language == "en":
            continue
        iso = gettext.translation("iso3166-1", pycountry.LOCALES_DIR, languages=[language])
        for country in pycountry.countries:
            meant[folded(iso.gettext(country.name))].add(country.alpha_2)
    for country in pycountry.countries:
        # What its own people call it (CLDR).
        for language in get_official_languages(country.alpha_2, regional=True, de_facto=True):
            with suppress(UnknownLocaleError):
                name = Locale.parse(language).territories.get(country.alpha_2, "")
                meant[folded(name)].add(country.alpha_2)
    return {name: codes.pop() for name, codes in meant.items() if name and len(codes) == 1}
