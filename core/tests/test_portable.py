"""Documents out and in: the same here, and found by name elsewhere."""

import json
from dataclasses import replace
from unittest import TestCase

from core.checking import Portable, packed, unpacked
from core.deciding import HandOver, RouteDocument, Rule
from core.people import Catalogue
from core.services import FarLine, Handover, ServiceFacts
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

    def test_a_service_is_found_by_its_name(self) -> None:
        handover = Handover(service="s1", lines=(FarLine(id="l", to="email", what="f-email"),))
        sheet = ROUTE.model_copy(
            update={"then": (Rule(id="r", action=HandOver(handover=handover)),)}
        )
        here = replace(CATALOGUE, services={"s1": ServiceFacts(id="s1", name="Star letters")})
        made = packed("route", "x", sheet.model_dump(mode="json"), here)
        self.assertEqual(made.references["s1"].kind, "service")
        there = replace(elsewhere(), services={"s9": ServiceFacts(id="s9", name="STAR letters")})
        document, _ = unpacked(made, there)
        action = RouteDocument.model_validate(document).then[0].action
        assert isinstance(action, HandOver)
        self.assertEqual(action.handover.service, "s9")
        self.assertEqual(action.handover.lines[0].what, "x-f-email")
        _, missing = unpacked(made, elsewhere())
        self.assertIn(("service", "Star letters"), [(one.kind, one.name) for one in missing])

    def test_a_field_of_another_type_is_not_the_same(self) -> None:
        there = elsewhere()
        number = replace(there.fields["x-f-first"], type="number")
        made = packed("route", "x", DOCUMENT, CATALOGUE)
        _, missing = unpacked(made, replace(there, fields={**there.fields, "x-f-first": number}))
        self.assertIn(("field", "First name"), [(one.kind, one.name) for one in missing])
