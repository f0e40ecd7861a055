"""Every kind of field with every comparison and every value, listed: Python against SQL.

Chance left out numbers for a long time; here nothing is drawn.
"""

from collections import Counter
from itertools import product
from typing import Any, get_args

from django.test import TestCase

from core.conditions import Circumstances, Comparison, FieldTest, comparisons_of, holds
from core.people import Catalogue, FieldFacts
from core.values import FieldType
from server.audiences.query import audience_query
from server.workspaces.models import Workspace
from tests.server import test_conditions as shared
from tests.server.test_conditions import NOW, VALUES, WANTED, ZONES
from tests.world import full_person

MISSING: Any = None
KEPT: dict[str, list[Any]] = {
    **VALUES,
    "text": [*VALUES["text"], "  ", "\u0301"],
    "number": [*VALUES["number"], "5", "007", "1e3", "-0", "0.0", "", "12 "],
}
ASKED: dict[str, list[str]] = {
    **WANTED,
    "text": [*WANTED["text"], "", " zo", "%", "_"],
    "number": [*WANTED["number"], "", " 12 ", "1_2", "0", "-0", "1e200000", "NaN", "Infinity"],
    "date": [*WANTED["date"], "20261124", "2026-W48-2", ""],
    "country": [*WANTED["country"], "", "yes"],
    "choice": [*WANTED["choice"], ""],
    "choices": [*WANTED["choices"], ""],
    "yes_no": [*WANTED["yes_no"], "", "true"],
}


class EveryComparison(TestCase):
    workspace: Workspace
    catalogue: Catalogue
    fields: dict[str, FieldFacts]
    make: Any = shared.Agreement.make
    rows_of: Any = shared.Agreement.rows_of
    setUpTestData: Any = classmethod(shared.Agreement.setUpTestData.__func__)  # type: ignore[attr-defined]

    def test_each_kind_each_comparison_each_value(self) -> None:
        nobody = {
            "zone": "", "score": 0, "tagged": False, "state": "", "run": "", "frozen": False, "events": [],
        }  # fmt: skip
        held: Counter[tuple[str, str]] = Counter()
        asked: Counter[tuple[str, str]] = Counter()
        seen = Circumstances(now=NOW, zone=self.workspace.time_zone)
        number = 0
        for kind, kept in KEPT.items():
            people = []
            zones = ZONES if kind == "date" else [""]
            for value, zone in product([MISSING, *kept], zones):
                values = {} if value is MISSING else {f"a_{kind}": value}
                people.append({**nobody, "zone": zone, "values": values})
            rows = self.make(people, number)
            number += len(rows)
            persons = {row.address: full_person(row) for row in rows}
            for op, wanted, exact in product(get_args(Comparison), ASKED[kind], (False, True)):
                test = FieldTest(
                    field=self.fields[kind].id, op=op, value=wanted, values=(wanted,), exact=exact
                )
                fits = audience_query(test, self.workspace, self.catalogue, NOW)
                by_sql = set(
                    fits.filter(pk__in=[row.pk for row in rows]).values_list("address", flat=True)
                )
                by_core = {
                    address
                    for address, person in persons.items()
                    if holds(test, person, seen, self.catalogue)
                }
                with self.subTest(kind=kind, op=op, wanted=wanted, exact=exact):
                    self.assertEqual(by_sql, by_core)
                asked[kind, op] += 1
                held[kind, op] += bool(by_core)
        # Each comparison that a kind has held for somebody at least once, so it was compared.
        for kind in KEPT:
            for op in comparisons_of(_type(kind)):
                self.assertGreater(asked[kind, op], 0)
                self.assertGreater(held[kind, op], 0, (kind, op))


def _type(kind: str) -> FieldType:
    return kind  # type: ignore[return-value]
