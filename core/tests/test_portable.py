"""Documents out and in: the same here, and found by name elsewhere."""

import json
from dataclasses import replace
from unittest import TestCase

from core.checking import Portable, packed, unpacked
from core.deciding import RouteDocument
from core.people import Catalogue
from core.tests.observatory import CATALOGUE, ROUTE
from core.tests.test_rules import HERE, route

DOCUMENT = ROUTE.model_dump(mode="json")


def elsewhere() -> Catalogue:
    """Another workspace, with the same names under other ids, but for one tag."""
    return replace(
        CATALOGUE,
        fields={f"x-{pk}": replace(one, id=f"x-{pk}") for pk, one in CATALOGUE.fields.items()},
        tags={"x-guide": "Guide", "x-moon": "moon"},
        lists={"x-news": "open-night NEWS"},
        sequences={"x-first": replace(CATALOGUE.sequences["s-first"], id="x-first")},
    )


class Portables(TestCase):
    def test_out_and_in_is_the_same(self) -> None:
        made = packed("route", "Telescope guide", DOCUMENT, CATALOGUE)
        read = Portable.model_validate_json(made.model_dump_json())
        document, missing = unpacked(read, CATALOGUE)
        self.assertEqual((document, missing), (json.loads(json.dumps(DOCUMENT)), []))

    def test_only_what_is_used_is_named(self) -> None:
        made = packed("route", "x", route().model_dump(mode="json"), HERE)
        self.assertNotIn("t-moon", made.references)
        self.assertEqual(made.references["f-email"].type, "email")

    def test_elsewhere_things_are_found_by_name(self) -> None:
        made = packed("route", "Telescope guide", DOCUMENT, CATALOGUE)
        document, missing = unpacked(made, elsewhere())
        sheet = RouteDocument.model_validate(document)
        self.assertEqual(sheet.read_as[0].field, "x-f-email")
        self.assertEqual(sheet.consent[0].list, "x-news")
        self.assertEqual([one.name for one in missing], ["planets"])

    def test_a_field_of_another_type_is_not_the_same(self) -> None:
        there = elsewhere()
        number = replace(there.fields["x-f-first"], type="number")
        made = packed("route", "x", DOCUMENT, CATALOGUE)
        _, missing = unpacked(made, replace(there, fields={**there.fields, "x-f-first": number}))
        self.assertIn(("field", "First name"), [(one.kind, one.name) for one in missing])
