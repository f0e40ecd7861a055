"""Time zones, kept as IANA names."""

from functools import cache
from importlib import resources
from zoneinfo import available_timezones

from ..documents import Problem
from .countries import country_name, read_country


def read_time_zone(text: str) -> str | Problem:
    """The IANA zone that `text` names, or the one zone of the country that it names."""
    wanted = "_".join(text.split()).casefold()
    zone = _zones().get(wanted)
    if zone:
        return zone
    country = read_country(text)
    if isinstance(country, Problem):
        return Problem(
            code="not_a_time_zone",
            sentence=f"“{text.strip()[:80]}” is not a time zone.",
            fix="Write it like Europe/Lisbon.",
        )
    zones = zones_of(country)
    if len(zones) == 1:
        return zones[0]
    return Problem(
        code="many_time_zones",
        sentence=f"{country_name(country)} has more than one time zone.",
        fix=f"Write the zone, like {zones[0] if zones else 'Europe/Lisbon'}.",
    )


@cache
def zone_names() -> frozenset[str]:
    """Every name of the IANA database; looking for them reads some hundred files."""
    return frozenset(available_timezones())


def zones_of(country: str) -> tuple[str, ...]:
    """The zones of a country (alpha-2), by the table of the IANA database."""
    return _by_country().get(country, ())


@cache
def _zones() -> dict[str, str]:
    # Names without an area are old names of countries and abbreviations, but for these.
    names = (one for one in zone_names() if "/" in one or one in ("UTC", "GMT"))
    return {name.casefold(): name for name in names}


@cache
def _by_country() -> dict[str, tuple[str, ...]]:
    table = resources.files("tzdata.zoneinfo").joinpath("zone.tab").read_text()
    found: dict[str, tuple[str, ...]] = {}
    for line in table.splitlines():
        if line and not line.startswith("#"):
            country, _, zone = line.split("\t")[:3]
            found[country] = (*found.get(country, ()), zone)
    return found
