"""Which time zone a person is in, as far as what is known of them tells."""

from collections.abc import Mapping

from ..documents import value
from ..values import Kept, country_name, zones_of
from .facts import Catalogue


@value
class ZoneFound:
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
        kept = values.get(field.key) if field.type == "time_zone" else None
        if isinstance(kept, str) and kept:
            return ZoneFound(zone=kept, says=f"{field.label} says so")
    return None


def _of_country(values: Mapping[str, Kept], catalogue: Catalogue) -> ZoneFound | None:
    for field in catalogue.fields.values():
        kept = values.get(field.key) if field.type == "country" else None
        if isinstance(kept, str) and len(zones_of(kept)) == 1:
            name = country_name(kept)
            return ZoneFound(zone=zones_of(kept)[0], says=f"{name} has this one time zone")
    return None
