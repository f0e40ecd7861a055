"""Nobody who left is brought back: by no way in, no rule, no merge, no address and no replay.

Common practice, and 3-rules 5: after leaving, only the person's own new opt-in subscribes again;
after a complaint, or from the suppression list, only a confirmation of theirs.
"""

from collections.abc import Callable
from datetime import timedelta
from itertools import count
from unittest import mock

from django.test import TestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as GeneratedCase

from core.deciding import ChangeSubscription, RouteDocument, Rule
from core.documents import Because
from core.history import Allowed
from server.consent.own import come_back
from server.imports import imports, sheets
from server.people.chain import erase_evidence
from server.people.memberships import bounce_all, unsubscribe
from server.people.models import Membership, Subscriber
from server.people.suppression import suppress
from server.profiles.addresses import change_address
from server.profiles.merges import merge_people, merges_of, undo_merge
from server.replays.models import Replay
from server.replays.replays import begin_replay, run_replay, undo_replay, work_on
from server.routes.actions import turn_on
from server.routing.routing import route_submission
from server.sources.actions import make_source, save_route_draft, shown_revision
from server.sources.models import Source
from server.submissions.models import Submission
from server.workspaces import clock
from tests.world import World, make_world

OWN = Because(kind="person", sentence="they unsubscribed on the page behind the link")
MEMBER = Because(kind="member", sentence="merged by Noor")
LEFT = ("unsubscribed", "complained", "bounced")
_numbers = count()


class Deeds:
    """A person who was subscribed and left, and everything that is not an act of their own."""

    def __init__(self) -> None:
        self.world: World = make_world(f"World {next(_numbers)}", f"m{next(_numbers)}@lark.example")
        self.workspace = self.world.workspace
        self.person = self.world.arrive("ines@example.com", look="moon")
        self.sheet = RouteDocument.model_validate(
            {
                "read_as": [
                    {"id": "r1", "question": "email", "field": self._field("email")},
                    {"id": "r2", "question": "name", "field": self._field("first_name")},
                ],
                "consent": [{"id": "c1", "list": str(self.world.news.pk), "wording": "On paper"}],
            }
        )

    def _field(self, key: str) -> str:
        return str(self.workspace.field_set.get(key=key).pk)

    def state(self) -> str:
        rows = Membership.objects.of(self.workspace).filter(list=self.world.news)
        found = rows.filter(subscriber__address__in=(self.address(), "ines@example.com"))
        return str(found.get().state)

    def address(self) -> str:
        there = Subscriber.objects.of(self.workspace).filter(pk=self.person.pk).first()
        return str(there.address) if there else "ines@example.com"

    def leaves(self, how: str) -> None:
        """The person leaves, in one of the ways there are."""
        if how == "bounced":
            bounce_all(self.person, OWN)
        else:
            unsubscribe(self.person, None, OWN, "email")
            self.person.memberships.update(state=how)

    def forgets_memberships(self) -> None:
        """As if nobody had ever been on a list."""
        rows = Membership.objects.of(self.workspace)
        erase_evidence(list(rows.values_list("pk", flat=True)))
        rows.delete()

    def a_file(self) -> None:
        """A file whose member says that everybody in it agreed."""
        source = self._source(Source.Kind.FILE)
        content = f"email,name\r\n{self.address()},Ines\r\n".encode()
        row = imports.begin_import(source, "people.csv", len(content), self.world.member)
        row = imports.keep_part(row, 0, content)
        row.source = source
        imports.start_counting(row)
        imports.work_on(str(row.pk))
        imports.start_running(row, "They ticked a box on paper", self.world.member)
        imports.work_on(str(row.pk))

    def a_sheet(self) -> None:
        """A row of a watched sheet."""
        source = self._source(Source.Kind.SHEET, live=True)
        watch = source.watch
        sheets.set_watch(watch, "https://sheets.example.org/people.csv", 15, "email")
        row = (2, (("email", self.address()), ("name", "Ines")))
        with mock.patch(
            "server.imports.sheets.read_sheet", return_value=(("email", "name"), [row])
        ):
            sheets.look(str(watch.pk))
        self._route(source)

    def a_webhook(self) -> None:
        """A call of another program."""
        source = self._source(Source.Kind.WEBHOOK, live=True)
        Submission.everywhere.create(
            workspace=self.workspace,
            source=source,
            answers=[["email", self.address()], ["name", "Ines"]],
            idempotency_key=f"call/{next(_numbers)}",
            received_at=clock.now(self.workspace),
        )
        self._route(source)

    def a_rule(self) -> None:
        """A rule that subscribes everybody who comes through a form without a wording."""
        source = self._source(Source.Kind.FORM)
        action = ChangeSubscription(list=str(self.world.news.pk), direction="subscribe")
        document = RouteDocument.model_validate(shown_revision(source).document)
        document = document.model_copy(update={"then": (Rule(id="t1", action=action),)})
        save_route_draft(source, document, 1, None)
        turn_on(source, None)
        Submission.everywhere.create(
            workspace=self.workspace,
            source=source,
            answers=[["email", self.address()]],
            idempotency_key=f"form/{next(_numbers)}",
            received_at=clock.now(self.workspace),
        )
        self._route(source)

    def a_merge(self) -> None:
        """Somebody who is subscribed is merged into them, or they into somebody."""
        other = self.world.arrive(f"other{next(_numbers)}@example.com", look="planets")
        kept = Subscriber.everywhere.get(pk=self.person.pk)
        kept.workspace = other.workspace = self.workspace
        merge_people(kept, other, frozenset(), MEMBER)

    def an_undone_merge(self) -> None:
        """A merge, and its undoing."""
        self.a_merge()
        person = Subscriber.everywhere.get(pk=self.person.pk)
        person.workspace = self.workspace
        [made, *_] = merges_of(person)
        made.workspace = self.workspace
        undo_merge(made, MEMBER)

    def another_address(self) -> None:
        """A member gives them another address."""
        person = Subscriber.everywhere.get(pk=self.person.pk)
        person.workspace = self.workspace
        change_address(person, f"ines{next(_numbers)}@example.net", MEMBER)

    def a_replay(self) -> None:
        """What they had sent before they left is replayed, with everything allowed."""
        self._replay()

    def an_undone_replay(self) -> None:
        """A replay, and its undoing."""
        row = self._replay()
        undo_replay(row)
        work_on(str(row.pk))

    def _replay(self) -> Replay:
        allowed: tuple[Allowed, ...] = ("removals", "sequences", "messages")
        row = begin_replay(self.world.source, {}, allowed, self.world.member)
        work_on(str(row.pk))
        row.refresh_from_db()
        run_replay(row)
        work_on(str(row.pk))
        row.refresh_from_db()
        return row

    def _source(self, kind: Source.Kind, *, live: bool = False) -> Source:
        source = make_source(self.workspace, f"{kind} {next(_numbers)}", None, kind=kind)
        if kind != Source.Kind.FORM:
            save_route_draft(source, self.sheet, 1, None)
        if live:
            turn_on(source, None)
        return source

    def _route(self, source: Source) -> None:
        waiting = Submission.objects.of(self.workspace).filter(source=source, state="received")
        for pk in list(waiting.values_list("pk", flat=True)):
            route_submission(str(pk))


WAYS: dict[str, Callable[[Deeds], None]] = {
    "file": Deeds.a_file,
    "sheet": Deeds.a_sheet,
    "webhook": Deeds.a_webhook,
    "rule": Deeds.a_rule,
    "merge": Deeds.a_merge,
    "undone merge": Deeds.an_undone_merge,
    "address": Deeds.another_address,
    "replay": Deeds.a_replay,
    "undone replay": Deeds.an_undone_replay,
}


class EachWay(TestCase):
    def test_no_way_leads_back(self) -> None:
        for how in LEFT:
            for name, way in WAYS.items():
                with self.subTest(f"{how}: {name}"):
                    deeds = Deeds()
                    deeds.leaves(how)
                    way(deeds)
                    self.assertEqual(deeds.state(), how)

    def test_the_ways_do_subscribe_somebody_who_never_left(self) -> None:
        """So the test above would notice if a way did nothing at all."""
        for name in ("file", "sheet", "webhook", "rule"):
            with self.subTest(name):
                deeds = Deeds()
                deeds.forgets_memberships()
                WAYS[name](deeds)
                self.assertEqual(deeds.state(), "subscribed")

    def test_their_own_opt_in_does(self) -> None:
        deeds = Deeds()
        deeds.leaves("unsubscribed")
        deeds.world.arrive("ines@example.com", look="planets")
        self.assertEqual(deeds.state(), "subscribed")
        deeds.leaves("unsubscribed")
        deeds.person.workspace = deeds.workspace
        come_back(deeds.person, str(deeds.world.news.pk))
        self.assertEqual(deeds.state(), "subscribed")

    def test_the_suppression_list_is_over_everything(self) -> None:
        for name in ("file", "sheet", "webhook", "rule"):
            with self.subTest(name):
                deeds = Deeds()
                deeds.forgets_memberships()
                suppress(deeds.workspace, ["@example.com"], "asked for it", None)
                WAYS[name](deeds)
                rows = Membership.objects.of(deeds.workspace)
                self.assertFalse(rows.filter(state="subscribed").exists())


class InAnyOrder(GeneratedCase):
    @settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(
        st.sampled_from(["unsubscribed", "complained"]),
        st.lists(st.sampled_from(sorted(WAYS)), min_size=2, max_size=4),
    )
    def test_no_sequence_of_deeds_leads_back(self, how: str, ways: list[str]) -> None:
        deeds = Deeds()
        deeds.leaves(how)
        for name in ways:
            clock.set_time(deeds.workspace, clock.now(deeds.workspace) + timedelta(minutes=1))
            WAYS[name](deeds)
            self.assertIn(deeds.state(), ("unsubscribed", "complained"), name)
