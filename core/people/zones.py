"""Which time zone a person is in, as far as what is known of them tells."""

from collections.abc import Mapping

from ..documents import Frozen
from ..values import Kept, country_name, zones_of
from .facts import Catalogue


class ZoneFound(Frozen):
    """A zone, and what says so."""

    zone: str
    says: str


def zone_of(
    values: Mapping[str, Kept], catalogue: Catalogue, own_zone: str, browser: str = ""
) -> ZoneFound | None:
    """The zone that becomes known: of a field for it, else of the visitor's browser, else of a
    country with one zone, which never replaces what is known already. None: nothing new."""
    found = _of_field(values, catalogue)
    if found is None and browser:
        found = ZoneFound(zone=browser, says="their browser is set to it")
    if found is None and not own_zone:
        found = _of_country(values, catalogue)
    return found if found is not None and found.zone != own_zone else None


def _of_field(values: Mapping[str, Kept], catalogue: Catalogue) -> ZoneFound | None:
    for field in catalogue.fields.values():
        value = values.get(field.key)
        if field.type == "time_zone" and isinstance(value, str) and value:
            return ZoneFound(zone=value, says=f"{field.label} says so")
    return None


def _of_country(values: Mapping[str, Kept], catalogue: Catalogue) -> ZoneFound | None:
    for field in catalogue.fields.values():
        value = values.get(field.key)
        if field.type == "country" and isinstance(value, str) and len(zones_of(value)) == 1:
            name = country_name(value)
            return ZoneFound(zone=zones_of(value)[0], says=f"{name} has this one time zone")
    return None
