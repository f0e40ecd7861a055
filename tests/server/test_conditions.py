"""Conditions in Python for one person against SQL for everybody, on generated ones of both."""

from collections import Counter
from datetime import UTC, date, datetime, timedelta
from typing import Any, get_args

from django.db import transaction
from django.test import TestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from core.conditions import (
    AnswerTest,
    Circumstances,
    Comparison,
    Condition,
    FieldTest,
    FrozenTest,
    Group,
    HappenedTest,
    MembershipTest,
    RunTest,
    ScoreTest,
    SourceTest,
    TagTest,
    explain,
    holds,
    leaves,
)
from core.documents import folded
from core.people import Catalogue, FieldFacts, Happened
from core.values import Choice
from server.audiences.query import audience_query
from server.people.actions import make_field, make_tag
from server.people.effects import index
from server.people.models import (
    Fact,
    FrozenGroup,
    FrozenMember,
    Membership,
    Subscriber,
    Tag,
    Tagging,
)
from server.sequences.facts import catalogue_of
from server.sequences.models import Run, SequenceRevision
from server.sequences.people import persons_by_id
from server.workspaces.causes import caused_by
from server.workspaces.copying import store_all
from server.workspaces.models import Workspace
from tests.world import WHY, World, full_person, make_world

NOW = datetime(2026, 11, 24, 2, 30, tzinfo=UTC)
LOOKS = (Choice(key="moon", label="Moon"), Choice(key="aurora", label="Aurora"))
TEXTS = ["Zoë", "zoe", "ZOE ", "Zo", "", "%_\\", "Ines van der Berg", "straße", "STRASSE", "İ"]
ZONES = ["", "Pacific/Kiritimati", "America/Los_Angeles", "Asia/Kathmandu", "Europe/London"]
DAYS = [(date(2026, 11, 24) + timedelta(days=n)).isoformat() for n in (-31, -7, -1, 0, 1, 7, 31)]
VALUES: dict[str, list[Any]] = {
    "text": TEXTS,
    "choice": ["moon", "aurora", "gone"],
    "choices": [["moon"], ["moon", "aurora"], []],
    "number": ["0", "12", "-3.5", "1000000000000.25"],
    "date": [*DAYS, "--11-24", "--02-29"],
    "yes_no": [True, False],
    "country": ["PT", "GB"],
}
WANTED: dict[str, list[str]] = {
    "text": [*TEXTS, "zo", "berg"],
    "choice": ["moon", "aurora"],
    "choices": ["moon", "aurora"],
    "number": ["12", "-3.5", "12.0", "x", "1e3"],
    "date": [*DAYS, "nonsense", "7", "31", "0"],
    "yes_no": ["yes", "no"],
    "country": ["PT", "US"],
}
LEAVES = {"field", "tag", "membership", "score", "happened", "run", "frozen", "answer", "source"}
EVENTS = st.tuples(
    st.sampled_from(["submitted", "membership", "sent", "event", "opened", "clicked", "clicked"]),
    st.sampled_from(["", "a", "b"]),
    st.integers(0, 24 * 9),
    st.sampled_from(["", "https://a.example/Shop?x=%_1", "https://a.example/shop"]),
    st.fixed_dictionaries(
        {},
        optional={
            "product": st.sampled_from(["Moon Atlas", "moon  atlas", "Moon", "möön"]),
            "amount": st.sampled_from(["25.50", "12", "1e3", "twelve", "-3", ""]),
            "a.b": st.sampled_from(["7", "Moon Atlas"]),
            "0": st.just("moon"),
        },
    ),
)


class Agreement(TestCase):
    world: World
    workspace: Workspace
    catalogue: Catalogue
    tag: Tag
    group: FrozenGroup
    revision: SequenceRevision
    fields: dict[str, FieldFacts]

    @classmethod
    def setUpTestData(cls) -> None:
        world = make_world()
        cls.workspace = world.workspace
        for kind in VALUES:
            choices = LOOKS if kind in ("choice", "choices") else ()
            make_field(cls.workspace, f"A {kind}", kind, choices)
        tag = make_tag(cls.workspace, "a tag")
        cls.group = FrozenGroup.everywhere.create(
            workspace=cls.workspace, name="a group", made_at=NOW
        )
        cls.catalogue = catalogue_of(cls.workspace)
        cls.world = world
        cls.tag = tag
        cls.revision = world.sequence.revisions.get(state="live")
        cls.fields = {
            one.key.removeprefix("a_"): one
            for one in cls.catalogue.fields.values()
            if one.key.startswith("a_")
        }

    def conditions(self) -> st.SearchStrategy[Condition]:
        field_tests = [
            st.builds(
                FieldTest,
                field=st.just(self.fields[kind].id),
                op=st.sampled_from(get_args(Comparison)),
                value=st.sampled_from(WANTED[kind]),
                values=st.lists(st.sampled_from(WANTED[kind]), max_size=2).map(tuple),
                exact=st.booleans(),
            )
            for kind in VALUES
        ]
        moments = st.none() | st.sampled_from(
            [(NOW - timedelta(days=ago)).date() for ago in (0, 1, 2, 5)]
        )
        leaves = st.one_of(
            *field_tests,
            st.builds(TagTest, tag=st.just(str(self.tag.pk)), has=st.booleans()),
            st.builds(
                MembershipTest,
                list=st.just(str(self.world.news.pk)),
                states=st.lists(
                    st.sampled_from(["none", "pending", "subscribed", "unsubscribed"]), max_size=2
                ).map(tuple),
                holds=st.booleans(),
            ),
            st.builds(
                ScoreTest,
                op=st.sampled_from(["less", "at_most", "more", "at_least", "is", "is_not"]),
                value=st.integers(-2, 3),
            ),
            st.builds(
                HappenedTest,
                what=st.sampled_from(get_args(Happened)),
                about=st.sampled_from(["", "a", "b"]),
                at_least=st.integers(0, 3),
                at_most=st.none() | st.integers(0, 3),
                within_hours=st.none() | st.sampled_from([24, 96]),
                before=moments,
                after=moments,
            ),
            st.builds(
                HappenedTest,
                what=st.just("clicked"),
                about=st.sampled_from(["", "a", "b"]),
                link=st.sampled_from(["/shop", "%_", "Shop", "a.example"]),
                at_least=st.integers(0, 2),
            ),
            st.builds(
                HappenedTest,
                what=st.just("event"),
                about=st.sampled_from(["", "a"]),
                detail=st.sampled_from(["", "product", "a.b", "0"]),
                detail_is=st.sampled_from(["", "moon atlas", "MÖÖN"]),
                total_of=st.sampled_from(["", "amount", "a.b"]),
                total_at_least=st.none() | st.decimals(0, 60, places=2),
                at_least=st.integers(0, 2),
            ),
            st.builds(
                RunTest,
                sequence=st.just(str(self.world.sequence.pk)),
                state=st.sampled_from(["under_way", "ever", "never"]),
            ),
            st.builds(FrozenTest, group=st.just(str(self.group.pk)), within=st.booleans()),
            st.builds(AnswerTest, question=st.just("x"), op=st.sampled_from(get_args(Comparison))),
            st.just(SourceTest(sources=("x",))),
            st.just(FieldTest(field="gone")),
        )
        return st.recursive(
            leaves,
            lambda inner: st.builds(
                Group,
                kind=st.sampled_from(["all", "any", "none"]),
                of=st.lists(inner, max_size=3).map(tuple),
            ),
            max_leaves=5,
        )

    def people(self) -> st.SearchStrategy[list[dict[str, Any]]]:
        values = st.fixed_dictionaries(
            {}, optional={f"a_{kind}": st.sampled_from(found) for kind, found in VALUES.items()}
        )
        return st.lists(
            st.fixed_dictionaries(
                {
                    "values": values,
                    "zone": st.sampled_from(ZONES),
                    "score": st.integers(-2, 3),
                    "tagged": st.booleans(),
                    "state": st.sampled_from(["", "pending", "subscribed", "unsubscribed"]),
                    "run": st.sampled_from(["", "open", "ended"]),
                    "frozen": st.booleans(),
                    "events": st.lists(EVENTS, max_size=4),
                }
            ),
            min_size=1,
            max_size=4,
        )

    def make(self, people: list[dict[str, Any]], first: int = 0) -> list[Subscriber]:
        """Store people, numbered from `first`; rows of each kind together."""
        rows = [self.rows_of(number, one) for number, one in enumerate(people, first)]
        for kind in (Subscriber, Tagging, FrozenMember, Membership, Run, Fact):
            store_all([row for those in rows for row in those if isinstance(row, kind)])
        return [those[0] for those in rows]

    def rows_of(self, number: int, one: dict[str, Any]) -> list[Any]:
        made = Subscriber(
            workspace=self.workspace,
            address=f"p{number}@example.com",
            address_key=f"p{number}@example.com",
            # An empty value is never stored (see `apply_decision`).
            values={key: value for key, value in one["values"].items() if value not in ("", [])},
            time_zone=one["zone"],
            score=one["score"],
            added_at=NOW,
        )
        index(made)
        rows: list[Any] = [made]
        base: dict[str, Any] = {
            "workspace": self.workspace,
            "subscriber": made,
            **caused_by(self.workspace.pk, WHY),
        }
        if one["tagged"]:
            rows.append(Tagging(**base, tag=self.tag, at=NOW))
        if one["frozen"]:
            base_of = {"workspace": self.workspace, "subscriber": made}
            rows.append(FrozenMember(**base_of, group=self.group))
        if one["state"]:
            rows.append(
                Membership(**base, list=self.world.news, state=one["state"], changed_at=NOW)
            )
        if one["run"]:
            rows.append(
                Run(
                    **base,
                    sequence=self.world.sequence,
                    revision=self.revision,
                    lane="a",
                    entered_at=NOW,
                    ended_at=NOW if one["run"] == "ended" else None,
                )
            )
        for kind, about, hours, link, data in one["events"]:
            at = NOW - timedelta(hours=hours)
            what: dict[str, Any] = {"link": link} if kind == "clicked" and link else {}
            if kind == "event" and data:
                what["data"] = data
                what["folded"] = {name: folded(text) for name, text in data.items()}
            rows.append(Fact(**base, kind=kind, about=about, at=at, what=what))
        return rows

    def test_python_and_sql_agree(self) -> None:
        made: Counter[str] = Counter()
        types = {one.id: kind for kind, one in self.fields.items()}

        @settings(
            max_examples=900,
            deadline=None,
            suppress_health_check=list(HealthCheck),
            derandomize=True,
        )
        @given(self.conditions(), self.people())
        def check(condition: Condition, people: list[dict[str, Any]]) -> None:
            for leaf in leaves(condition):
                made[leaf.kind] += 1
                if isinstance(leaf, HappenedTest) and leaf.link:
                    made[f"link {leaf.what}"] += 1
                if isinstance(leaf, HappenedTest) and leaf.detail:
                    made["detail"] += 1
                if isinstance(leaf, HappenedTest) and leaf.total_of and leaf.total_at_least:
                    made["total"] += 1
                if isinstance(leaf, FieldTest):
                    made[f"field {types.get(leaf.field, 'gone')}"] += 1
            with transaction.atomic():
                compare(condition, people)
                transaction.set_rollback(True)

        def compare(condition: Condition, people: list[dict[str, Any]]) -> None:
            rows = self.make(people)
            seen = Circumstances(now=NOW, zone=self.workspace.time_zone)
            ids = [row.pk for row in rows]
            persons = persons_by_id(self.workspace, ids, history=True).values()
            one_by_one = {
                one.address for one in persons if holds(condition, one, seen, self.catalogue)
            }
            found = audience_query(condition, self.workspace, self.catalogue, NOW)
            at_once = set(found.values_list("address", flat=True))
            self.assertEqual(at_once, one_by_one, condition)
            # And the same of one whose rows are read for them alone.
            alone = full_person(rows[0])
            fits = holds(condition, alone, seen, self.catalogue)
            self.assertEqual(fits, alone.address in one_by_one, condition)
            explain(condition, alone, seen, self.catalogue)

        check()
        # What chance never made was not compared: each kind of condition, each type of field.
        self.assertEqual(
            {kind for kind in made if kind in LEAVES}, LEAVES, "some conditions never came"
        )
        self.assertGreater(made["link clicked"], 5, made)
        self.assertGreater(made["detail"], 5, made)
        self.assertGreater(made["total"], 5, made)
        self.assertLessEqual(set(VALUES), {kind.removeprefix("field ") for kind in made})

    def test_one_statement_and_no_test_people(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="Ines")
        condition = Group(of=(HappenedTest(about=str(self.world.source.pk)), ScoreTest(value=0)))
        with self.assertNumQueries(1):
            found = list(audience_query(condition, self.workspace, self.catalogue, person.added_at))
        self.assertEqual([one.pk for one in found], [person.pk])
        Subscriber.everywhere.filter(pk=person.pk).update(is_test=True)
        self.assertFalse(
            audience_query(condition, self.workspace, self.catalogue, person.added_at).exists()
        )
