"""The time zone of a person, by the IANA database's table of countries (zone1970.tab)."""

from unittest import TestCase

from core.people import Catalogue, FieldFacts, zone_of
from core.values import zones_of

CATALOGUE = Catalogue(
    fields={
        "f-zone": FieldFacts(id="f-zone", key="zone", label="Time zone", type="time_zone"),
        "f-home": FieldFacts(id="f-home", key="home", label="Country", type="country"),
    }
)


def zone(own: str = "", browser: str = "", **values: str) -> str:
    found = zone_of(values, CATALOGUE, own, browser)
    return found.zone if found else ""


class Zones(TestCase):
    def test_what_says_it_and_what_it_goes_before(self) -> None:
        kathmandu, lisbon, tokyo = "Asia/Kathmandu", "Europe/Lisbon", "Asia/Tokyo"
        for own, browser, values, expected in (
            ("", "", {}, ""),
            ("", "", {"home": "NP"}, kathmandu),
            # A country with several zones says nothing.
            ("", "", {"home": "US"}, ""),
            ("", tokyo, {"home": "NP"}, tokyo),
            ("", tokyo, {"zone": lisbon, "home": "NP"}, lisbon),
            # A country is the weakest word: it never replaces what is known.
            (lisbon, "", {"home": "NP"}, ""),
            (lisbon, tokyo, {}, tokyo),
            (lisbon, "", {"zone": kathmandu}, kathmandu),
            # What is known already is no news.
            (lisbon, lisbon, {}, ""),
            (kathmandu, "", {"zone": kathmandu}, ""),
        ):
            with self.subTest(own=own, browser=browser, values=values):
                self.assertEqual(zone(own, browser, **values), expected)

    def test_the_reason_is_said(self) -> None:
        found = zone_of({"home": "NP"}, CATALOGUE, "")
        assert found is not None
        self.assertEqual(found.says, "Nepal has this one time zone")
        found = zone_of({"zone": "Asia/Tokyo"}, CATALOGUE, "")
        assert found is not None
        self.assertEqual(found.says, "Time zone says so")

    def test_countries_by_the_table(self) -> None:
        # From the IANA database, as of 2024a: one zone, one of several, none.
        self.assertEqual(zones_of("NP"), ("Asia/Kathmandu",))
        self.assertGreater(len(zones_of("US")), 20)
        self.assertEqual(zones_of("XX"), ())
