"""Replay on real people: what it does, that it does it once, and that it can be undone."""

from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext

from core.deciding import (
    AddTags,
    ChangeScore,
    MakeTask,
    RecordEvent,
    RouteDocument,
    Rule,
    SendNow,
    StartSequence,
)
from core.documents import Because
from core.history import Allowed
from server.mail.models import Send
from server.people.actions import make_tag
from server.people.memberships import unsubscribe
from server.people.models import Evidence, Fact, Membership, Subscriber, Task
from server.replays.models import Replay, ReplayLine
from server.replays.replays import begin_replay, run_replay, stop_replay, undo_replay, work_on
from server.routing.routing import route_submission
from server.sources.actions import make_source, shown_revision
from server.submissions.log import remove
from server.submissions.models import Submission
from server.workspaces.errors import Refused
from tests.server.test_references import Api

EVERYTHING: tuple[Allowed, ...] = ("removals", "sequences", "messages")
OWN = Because(kind="person", sentence="they unsubscribed on the page behind the link")


class Replaying(Api):
    def setUp(self) -> None:
        super().setUp()
        self.stars = make_tag(self.workspace, "stars")

    def replay(self, *allowed: Allowed, run: bool = True, **wanted: Any) -> Replay:
        """A replay by today's route, looked at and carried out."""
        row = begin_replay(self.world.source, wanted, allowed or EVERYTHING, self.world.member)
        work_on(str(row.pk))
        row.refresh_from_db()
        self.assertEqual(row.state, "seen", row.failure)
        if run:
            run_replay(row)
            work_on(str(row.pk))
            row.refresh_from_db()
            self.assertEqual(row.state, "done", row.failure)
        return row

    def undo(self, row: Replay) -> None:
        undo_replay(row)
        work_on(str(row.pk))
        row.refresh_from_db()
        self.assertEqual(row.state, "undone", row.failure)

    def words(self, row: Replay) -> dict[str, list[str]]:
        lines = ReplayLine.objects.of(self.workspace).filter(replay=row).exclude(effects=[])
        return {one.address: [each["text"] for each in one.effects] for one in lines}

    def map_the_name_as_address(self, route: RouteDocument) -> None:
        """A mistake that leaves everybody stuck."""
        needed = [
            one.model_copy(update={"required": True}) if one.name == "first_name" else one
            for one in route.form.questions
        ]
        self.world.change_route(
            form=route.form.model_copy(update={"questions": tuple(needed)}),
            read_as=(route.read_as[0].model_copy(update={"question": "first_name"}),),
        )

    def tag_rule(self, tag: Any, number: int = 1) -> Rule:
        return Rule(id=f"t{number}", action=AddTags(tags=(str(tag.pk),)))


class AfterAMistake(Replaying):
    def test_a_wrong_tag_is_set_right_with_its_because(self) -> None:
        person = self.world.arrive("ines@example.com", look="moon")
        untouched = self.world.arrive("ada@example.com")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        seen = self.replay("removals", run=False)
        self.assertEqual(
            self.words(seen),
            {
                "ines@example.com": ["+ stars", "− guide", "− moon"],
                "ada@example.com": ["+ stars", "− guide"],
            },
        )
        self.assertEqual(self.world.tags_of(person), {"guide", "moon"})
        run_replay(seen)
        work_on(str(seen.pk))
        self.assertEqual(self.world.tags_of(person), {"stars"})
        self.assertEqual(self.world.tags_of(untouched), {"stars"})
        because = person.taggings.get(tag=self.stars).because
        self.assertRegex(because["sentence"], r"^replay by noor@larkmoor\.example on \d+ \w+ \d+: ")
        self.assertEqual(because["submission_id"], str(person.submissions.get().pk))
        self.assertEqual(seen.counts["changed"], 2)

    def test_a_second_one_finds_nothing(self) -> None:
        self.world.arrive("ines@example.com", look="moon")
        self.world.change_route(
            then=(
                self.tag_rule(self.stars),
                Rule(id="t5", action=ChangeScore(by=5)),
                Rule(id="t6", action=RecordEvent(name="asked")),
                Rule(id="t7", action=MakeTask(title="Call them")),
                Rule(id="t8", action=SendNow(message=str(self.world.fits.pk))),
            )
        )
        self.replay()
        facts = Fact.objects.of(self.workspace).count()
        again = self.replay()
        self.assertEqual((self.words(again), again.counts.get("changed")), ({}, 0))
        self.assertEqual(Fact.objects.of(self.workspace).count(), facts)
        self.assertEqual(Task.objects.of(self.workspace).count(), 1)

    def test_it_is_undone(self) -> None:
        person = self.world.arrive("ines@example.com", look="moon", first_name="ines")
        self.world.change_route(
            read_as=RouteDocument.model_validate(
                shown_revision(self.world.source).document
            ).read_as[:1],
            consent=(),
            then=(
                self.tag_rule(self.stars),
                Rule(id="t5", action=ChangeScore(by=5)),
                Rule(id="t6", action=RecordEvent(name="asked")),
                Rule(id="t7", action=MakeTask(title="Call them")),
            ),
        )
        row = self.replay()
        person.refresh_from_db()
        self.assertEqual((person.values, person.score), ({}, 5))
        self.assertEqual(person.memberships.get().state, "none")
        self.undo(row)
        person.refresh_from_db()
        self.assertEqual((person.values, person.score), ({"first_name": "Ines"}, 0))
        self.assertEqual(self.world.tags_of(person), {"guide", "moon"})
        self.assertEqual(person.memberships.get().state, "subscribed")
        self.assertFalse(person.facts.filter(kind="event").exists())
        self.assertFalse(Task.objects.of(self.workspace).exists())
        # Evidence is only ever added to.
        self.assertEqual(
            list(
                Evidence.objects.of(self.workspace).order_by("at").values_list("after", flat=True)
            ),
            ["subscribed", "none", "subscribed"],
        )
        # What was ended stays so: a sequence is entered once only.
        did = self.words(row)["ines@example.com"]
        self.assertEqual(did.pop(), "ends First telescope")
        self.assertEqual(self.words(self.replay(run=False)), {"ines@example.com": did})

    def test_those_of_a_snag_are_made_people(self) -> None:
        route = RouteDocument.model_validate(shown_revision(self.world.source).document)
        self.map_the_name_as_address(route)
        stuck = self.world.submit("ines@example.com", first_name="no address", look="moon")
        route_submission(str(stuck.pk))
        stuck.refresh_from_db()
        self.assertEqual(stuck.state, "stuck")
        snag = stuck.snag
        assert snag is not None
        self.world.change_route(read_as=route.read_as)
        row = self.replay(snag=snag.pk)
        stuck.refresh_from_db()
        self.assertEqual((stuck.state, stuck.snag), ("routed", None))
        person = Subscriber.objects.of(self.workspace).get(address="ines@example.com")
        self.assertEqual(self.world.tags_of(person), {"guide", "moon"})
        self.assertEqual(self.words(row)["ines@example.com"][0], "a new person")
        self.undo(row)
        stuck.refresh_from_db()
        self.assertEqual((stuck.state, stuck.subscriber), ("stuck", None))
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())

    def test_somebody_made_stays_if_more_came_of_them(self) -> None:
        route = RouteDocument.model_validate(shown_revision(self.world.source).document)
        self.map_the_name_as_address(route)
        route_submission(str(self.world.submit("ines@example.com", first_name="x").pk))
        self.world.change_route(read_as=route.read_as)
        row = self.replay()
        person = self.world.arrive("ines@example.com", look="planets")
        self.undo(row)
        self.assertTrue(Subscriber.objects.of(self.workspace).filter(pk=person.pk).exists())
        self.assertIn("planets", self.world.tags_of(person))


class WhatMayHappen(Replaying):
    def test_facts_only(self) -> None:
        person = self.world.arrive("ines@example.com")
        sends = Send.objects.of(self.workspace).count()
        self.world.change_route(
            then=(
                self.tag_rule(self.stars),
                Rule(id="t8", action=SendNow(message=str(self.world.fits.pk))),
            )
        )
        row = self.replay("removals")
        self.assertEqual(Send.objects.of(self.workspace).count(), sends)
        self.assertTrue(person.runs.filter(ended_at=None).exists())
        [line] = row.lines.all()
        self.assertIn("this replay sends no message", line.kept)

    def test_nobody_gets_a_message_twice(self) -> None:
        self.world.arrive("ines@example.com")
        guide = str(self.world.guide.pk)
        self.world.change_route(then=(Rule(id="t9", action=SendNow(message=guide)),))
        before = Send.objects.of(self.workspace).count()
        self.replay()
        self.assertEqual(Send.objects.of(self.workspace).count(), before)

    def test_a_sequence_begun_by_it_leaves_out_what_was_sent_before(self) -> None:
        guide = str(self.world.guide.pk)
        start = Rule(id="t3", action=StartSequence(sequence=str(self.world.sequence.pk), lane="a"))
        self.world.change_route(then=(Rule(id="t9", action=SendNow(message=guide)),))
        person = self.world.arrive("ines@example.com")
        self.world.change_route(then=(start,))
        self.replay("sequences")
        self.assertTrue(person.runs.filter(ended_at=None).exists())
        self.assertEqual(len(self.world.sends(message=self.world.guide)), 1)

    def test_undoing_ends_what_it_started(self) -> None:
        self.world.change_route(then=())
        person = self.world.arrive("ines@example.com")
        start = StartSequence(sequence=str(self.world.sequence.pk), lane="a")
        self.world.change_route(then=(Rule(id="t3", action=start),))
        row = self.replay("sequences")
        self.assertEqual(person.runs.get().ended, "")
        self.undo(row)
        self.assertEqual(person.runs.get().ended, "stopped")

    def test_nobody_is_brought_back(self) -> None:
        self.world.change_route(consent=())
        person = self.world.arrive("ines@example.com")
        first = RouteDocument.model_validate(self.world.source.revisions.get(number=1).document)
        Membership.everywhere.create(
            workspace=self.workspace,
            subscriber=person,
            list=self.world.news,
            state="subscribed",
            changed_at=person.added_at,
            because=OWN,
        )
        unsubscribe(person, None, OWN, "email")
        self.world.change_route(consent=first.consent)
        row = self.replay()
        self.assertEqual(person.memberships.get().state, "unsubscribed")
        self.undo(row)
        self.assertEqual(person.memberships.get().state, "unsubscribed")


class OnTheWay(Replaying):
    def test_after_a_crash_it_goes_on(self) -> None:
        people = [self.world.arrive(f"p{number}@example.com") for number in range(3)]
        self.world.change_route(then=(self.tag_rule(self.stars),))
        row = self.replay("removals", run=False)
        run_replay(row)
        # What a worker had done before it died, and nothing of the rest.
        row.refresh_from_db()
        row.next_line = 1
        row.save(update_fields=["next_line"])
        work_on(str(row.pk))
        tagged = {one.pk for one in people if "stars" in self.world.tags_of(one)}
        self.assertEqual(tagged, {people[1].pk, people[2].pk})

    def test_it_can_be_stopped_and_gone_on_with(self) -> None:
        person = self.world.arrive("ines@example.com")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        row = self.replay("removals", run=False)
        run_replay(row)
        stop_replay(row)
        work_on(str(row.pk))
        self.assertEqual(self.world.tags_of(person), {"guide"})
        run_replay(row)
        work_on(str(row.pk))
        self.assertEqual(self.world.tags_of(person), {"stars"})

    def test_a_route_that_was_changed_since_is_looked_at_again(self) -> None:
        self.world.arrive("ines@example.com")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        row = self.replay(run=False)
        self.world.change_route(then=())
        with self.assertRaises(Refused):
            run_replay(row)

    def test_who_changed_between_look_and_run_is_decided_as_they_are(self) -> None:
        person = self.world.arrive("ines@example.com")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        row = self.replay("removals", run=False)
        self.world.arrive("ines@example.com", look="planets")
        run_replay(row)
        work_on(str(row.pk))
        self.assertEqual(self.world.tags_of(person), {"stars"})

    def test_nothing_and_drafts_cannot_be_replayed(self) -> None:
        with self.assertRaises(Refused):
            begin_replay(self.world.source, {}, (), self.world.member)
        draft = make_source(self.workspace, "Draft", self.world.member)
        with self.assertRaises(Refused):
            begin_replay(draft, {}, (), self.world.member)

    def test_queries_do_not_grow_with_people(self) -> None:
        for number in range(3):
            self.world.arrive(f"p{number}@example.com")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        self.queries_of_a_look()
        few = self.queries_of_a_look()
        for number in range(9):
            self.world.arrive(f"q{number}@example.com")
        self.assertEqual(self.queries_of_a_look(), few)

    def queries_of_a_look(self) -> int:
        row = begin_replay(self.world.source, {}, (), self.world.member)
        with CaptureQueriesContext(connection) as queries:
            work_on(str(row.pk))
        row.refresh_from_db()
        self.assertEqual(row.state, "seen")
        return len(queries)


class OverTheApi(Replaying):
    def test_look_run_and_undo(self) -> None:
        person = self.world.arrive("ines@example.com", look="moon")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        at = f"/sources/{self.world.source.pk}"
        made = self.send("post", f"{at}/replays", {"allowed": ["removals"]})
        self.assertEqual((made["state"], made["submissions"]), ("looking", 1))
        work_on(made["id"])
        seen = self.get(f"/replays/{made['id']}")
        self.assertEqual((seen["state"], seen["people"]), ("seen", 1))
        [line] = self.get(f"/replays/{made['id']}/lines")["lines"]
        self.assertEqual(line["effects"][0], {"kind": "adds", "text": "+ stars"})
        removes = self.get(f"/replays/{made['id']}/lines?kind=changes")["lines"]
        self.assertEqual(removes, [])
        self.send("post", f"/replays/{made['id']}/run")
        work_on(made["id"])
        self.assertEqual(self.world.tags_of(person), {"stars"})
        self.send("post", f"/replays/{made['id']}/undo")
        work_on(made["id"])
        self.assertEqual(self.world.tags_of(person), {"guide", "moon"})
        [listed] = self.get(f"{at}/replays")
        self.assertEqual(listed["state"], "undone")
        self.send("post", f"/replays/{made['id']}/run", status=422)

    def test_a_rehearsal_is_a_table_and_keeps_nothing(self) -> None:
        self.world.arrive("ines@example.com", look="moon")
        self.world.arrive("ada@example.com")
        document = shown_revision(self.world.source).document
        facts = Fact.objects.of(self.workspace).count()
        same = self.send(
            "post", f"/sources/{self.world.source.pk}/rehearse", {"document": document}
        )
        self.assertEqual((same["people"], same["stuck"], same["different"]), (2, 0, 0))
        self.assertIn("+ moon", [text for one in same["lines"] for text in one["outcomes"]])
        other = {**document, "then": [self.tag_rule(self.stars).model_dump(mode="json")]}
        found = self.send("post", f"/sources/{self.world.source.pk}/rehearse", {"document": other})
        self.assertEqual(found["different"], 2)
        self.assertEqual(found["lines"][0]["effects"][0]["text"], "+ stars")
        self.assertEqual(Fact.objects.of(self.workspace).count(), facts)

    def test_removed_submissions_are_passed_over(self) -> None:
        person = self.world.arrive("ines@example.com")
        self.world.change_route(then=(self.tag_rule(self.stars),))
        row = self.replay(run=False)
        ids = list(Submission.objects.of(self.workspace).values_list("pk", flat=True))
        remove(self.workspace, ids, with_people=False)
        run_replay(row)
        work_on(str(row.pk))
        self.assertEqual(self.world.tags_of(person), {"guide"})
