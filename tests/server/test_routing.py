"""A submission is decided by the live route and carried out in one transaction, once."""

from typing import Any
from unittest import mock

from django.test import TestCase

from core.deciding import Decision, RouteDocument, SubmissionFacts, decide
from server.mail.editing import make_message
from server.people.actions import make_field, make_list, make_tag
from server.people.models import Evidence, Fact, Membership, Subscriber, Tagging
from server.routes.actions import changes_of, turn_on
from server.routes.sample import sample
from server.routing.routing import route_submission
from server.sequences.facts import catalogue_of
from server.sequences.models import Run
from server.snags.models import Snag
from server.sources.actions import go_back, save_route_draft
from server.sources.portable import route_in, route_out
from server.submissions.log import give_up, route_again
from server.submissions.models import Submission
from server.workspaces.documents import draft_of, edits_of, live_of
from server.workspaces.errors import Conflict, Refused
from server.workspaces.models import Workspace
from tests.world import make_world


class Routing(TestCase):
    def setUp(self) -> None:
        self.world = make_world()

    def test_everything_that_follows_and_why(self) -> None:
        person = self.world.arrive("Ines@Example.com", first_name="INES", look="planets")
        self.assertEqual(person.address, "Ines@example.com")
        self.assertEqual(person.values, {"first_name": "Ines"})
        self.assertEqual(
            sorted(person.taggings.values_list("tag__name", flat=True)), ["guide", "planets"]
        )
        planets = person.taggings.get(tag__name="planets")
        self.assertIn("was Planets", planets.because["sentence"])
        self.assertEqual(planets.because["revision"], 1)
        self.assertEqual(planets.because["source_id"], str(self.world.source.pk))
        kinds = list(person.facts.order_by("at", "id").values_list("kind", flat=True))
        self.assertEqual(
            kinds, ["added", "submitted", "field", "membership", "tag", "tag", "entered"]
        )

    def test_the_evidence_of_consent(self) -> None:
        person = self.world.arrive("ines@example.com")
        proof = Evidence.objects.of(self.world.workspace).get()
        self.assertEqual((proof.before, proof.after), ("none", "subscribed"))
        self.assertEqual(proof.wording, "You also get the news.")
        self.assertEqual(proof.because["submission_id"], str(person.submissions.get().pk))

    def test_one_subscriber_per_address_whatever_the_case(self) -> None:
        first = self.world.arrive("ines@example.com", first_name="Ines")
        second = self.world.arrive("INES@example.com", look="moon")
        self.assertEqual(first.pk, second.pk)
        self.assertEqual(second.values, {"first_name": "Ines"})
        self.assertEqual(Run.objects.of(self.world.workspace).count(), 1)
        self.assertEqual(Membership.objects.of(self.world.workspace).count(), 1)

    def test_routing_twice_changes_nothing_the_second_time(self) -> None:
        submission = self.world.submit("ines@example.com", look="moon")
        route_submission(str(submission.pk))
        before = self.counts()
        route_submission(str(submission.pk))
        self.assertEqual(self.counts(), before)

    def test_a_failure_half_way_leaves_nothing_behind(self) -> None:
        submission = self.world.submit("ines@example.com")
        before = self.counts()
        with (
            mock.patch("server.sequences.progress.Outbox.write", side_effect=RuntimeError),
            self.assertRaises(RuntimeError),
        ):
            route_submission(str(submission.pk))
        self.assertEqual(self.counts(), before)
        route_submission(str(submission.pk))
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 1)

    def test_without_an_address_it_is_stuck_with_a_snag_and_goes_on_when_fixed(self) -> None:
        stuck = self.world.submit("", Email="ines@example.com")
        route_submission(str(stuck.pk))
        stuck.refresh_from_db()
        self.assertEqual(stuck.state, Submission.State.STUCK)
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertIn("Telescope guide", snag.sentence)
        self.rename_question("email", "Email")
        self.assertEqual(route_again(self.world.workspace, snag), 1)
        route_submission(str(stuck.pk))
        stuck.refresh_from_db()
        self.assertEqual(stuck.state, Submission.State.ROUTED)
        snag.refresh_from_db()
        self.assertIsNotNone(snag.closed_at)

    def test_the_same_cause_is_one_snag_that_counts(self) -> None:
        for number in range(3):
            self.world.arrive(f"p{number}@example.com", look="comets")
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertEqual(snag.times, 3)
        self.assertIn("comets", snag.sentence)

    def test_what_waits_is_routed_along_and_each_address_in_its_turn(self) -> None:
        first = self.world.submit("ines@example.com", look="moon")
        again = self.world.submit("INES@example.com", look="planets")
        self.world.submit("toni@example.com", look="moon")
        route_submission(str(first.pk))
        states = Submission.objects.of(self.world.workspace).order_by("received_at")
        self.assertEqual(
            list(states.values_list("state", flat=True)), ["routed", "received", "routed"]
        )
        route_submission(str(again.pk))
        ines = Subscriber.objects.of(self.world.workspace).get(address_key="ines@example.com")
        tags = sorted(ines.taggings.values_list("tag__name", flat=True))
        self.assertEqual(tags, ["guide", "moon", "planets"])
        self.assertEqual(ines.facts.filter(kind="added").count(), 1)

    def test_one_that_cannot_be_routed_does_not_hold_up_the_others(self) -> None:
        whole = [self.world.submit(f"p{number}@example.com") for number in range(2)]
        broken = self.world.submit("broken@example.com")

        def deciding(facts: SubmissionFacts, *rest: Any) -> Decision:
            if ("email", "broken@example.com") in facts.answers:
                raise RuntimeError
            return decide(facts, *rest)

        with mock.patch("server.routing.routing.decide", deciding):
            with self.assertRaises(RuntimeError):
                route_submission(str(broken.pk))
            for one in whole:
                route_submission(str(one.pk))
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 2)
        broken.refresh_from_db()
        self.assertEqual(broken.state, Submission.State.RECEIVED)

    def test_after_some_failures_it_is_stuck_and_not_lost(self) -> None:
        submission = self.world.submit("ines@example.com")
        give_up(str(submission.pk), "RuntimeError")
        submission.refresh_from_db()
        self.assertEqual(submission.state, Submission.State.STUCK)
        assert submission.snag is not None
        route_again(self.world.workspace, submission.snag)
        route_submission(str(submission.pk))
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 1)

    def rename_question(self, old: str, new: str) -> None:
        live = self.world.source.revisions.get(state="live")
        route = RouteDocument.model_validate(live.document)
        questions = tuple(
            one.model_copy(update={"name": new}) if one.name == old else one
            for one in route.form.questions
        )
        lines = tuple(
            one.model_copy(update={"question": new}) if one.question == old else one
            for one in route.read_as
        )
        changed = route.model_copy(
            update={
                "form": route.form.model_copy(update={"questions": questions}),
                "read_as": lines,
            }
        )
        save_route_draft(self.world.source, changed, None, None)
        turn_on(self.world.source, None)

    def counts(self) -> list[int]:
        rows = (Subscriber, Tagging, Membership, Evidence, Fact, Run)
        return [row.objects.of(self.world.workspace).count() for row in rows]


class WhatExists(TestCase):
    def test_what_is_made_while_mapping_is_known_at_once(self) -> None:
        world = make_world()
        catalogue_of(world.workspace)
        field = make_field(world.workspace, "Sky darkness", "text")
        tag = make_tag(world.workspace, "dark sky")
        there = make_list(world.workspace, "Members' letter")
        message = make_message(world.workspace, "Welcome")
        known = catalogue_of(world.workspace)
        self.assertIn(str(field.pk), known.fields)
        self.assertIn(str(tag.pk), known.tags)
        self.assertIn(str(there.pk), known.lists)
        self.assertIn(str(message.pk), known.messages)
        fresh = catalogue_of(Workspace.objects.get(pk=world.workspace.pk))
        self.assertEqual(fresh, known)


class Revisions(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.source = self.world.source

    def live(self) -> RouteDocument:
        return RouteDocument.model_validate(self.source.revisions.get(state="live").document)

    def test_turning_on_a_second_keeps_the_first(self) -> None:
        changed = self.live().model_copy(update={"then": ()})
        save_route_draft(self.source, changed, None, None)
        self.assertEqual(len(self.live().then), 3)
        turn_on(self.source, self.world.member, "no rules")
        self.assertEqual(len(self.live().then), 0)
        past = self.source.revisions.get(number=1)
        self.assertEqual((past.state, len(past.document["then"])), ("past", 3))

    def test_pre_flight_stops_what_cannot_work(self) -> None:
        broken = self.live().model_copy(update={"read_as": ()})
        save_route_draft(self.source, broken, None, None)
        with self.assertRaises(Refused) as caught:
            turn_on(self.source, None)
        self.assertEqual([one.code for one in caught.exception.problems], ["email_not_mapped"])
        self.assertEqual(len(self.live().read_as), 2)

    def test_a_readable_difference_and_the_way_back(self) -> None:
        live = self.live()
        draft = live.model_copy(update={"then": live.then[:1]})
        save_route_draft(self.source, draft, None, None)
        second = turn_on(self.source, None)
        first = self.source.revisions.get(number=1)
        said = changes_of(self.source, first, second)
        self.assertEqual(
            said,
            [
                "rule 2 taken out: tag by the answer to “What do you look at?” "
                "(Moon → moon; Planets → planets)",
                "rule 3 taken out: start First telescope",
            ],
        )
        back = go_back(self.source, 1, None)
        self.assertEqual(changes_of(self.source, first, back), [])
        # What is live goes on until the draft is turned on.
        self.assertEqual(len(self.live().then), 1)
        turn_on(self.source, None)
        self.assertEqual(self.live(), live)

    def test_two_members_editing_notice_each_other(self) -> None:
        seen = self.edits()
        save_route_draft(self.source, self.live(), seen, self.world.member)
        with self.assertRaisesMessage(
            Conflict, "noor@larkmoor.example changed this draft while you had it open."
        ):
            save_route_draft(self.source, RouteDocument(), seen, None)
        with self.assertRaisesMessage(Conflict, "You changed this draft in another window."):
            save_route_draft(self.source, RouteDocument(), seen, self.world.member)
        save_route_draft(self.source, self.live(), seen + 1, None)

    def test_a_draft_turned_on_and_begun_again_is_not_taken_for_the_old_one(self) -> None:
        save_route_draft(self.source, self.live(), None, None)
        seen = self.edits()
        turn_on(self.source, None)
        self.assertEqual(self.edits(), seen)
        save_route_draft(self.source, self.live(), seen, None)
        with self.assertRaises(Conflict):
            save_route_draft(self.source, RouteDocument(), seen, None)

    def test_nobody_turns_on_or_replaces_what_they_have_not_seen(self) -> None:
        save_route_draft(self.source, self.live(), None, None)
        seen = self.edits()
        save_route_draft(self.source, RouteDocument(), seen, None)
        with self.assertRaises(Conflict):
            turn_on(self.source, None, based_on=seen)
        with self.assertRaises(Conflict):
            go_back(self.source, 1, None, based_on=seen)
        with self.assertRaises(Conflict):
            route_in(self.source, route_out(self.source).model_dump_json().encode(), None, seen)
        go_back(self.source, 1, None, based_on=seen + 1)
        turn_on(self.source, None, based_on=seen + 2)

    def edits(self) -> int:
        revisions = self.source.revisions.all()
        return edits_of(draft_of(revisions), live_of(revisions))

    def test_the_sample_is_decided_by_the_same_rules_and_keeps_nothing(self) -> None:
        answers = (("email", "Ines@example.com"), ("first_name", "ines"), ("look", "moon"))
        now = self.world.workspace.created_at
        sampled = sample(self.source, self.live(), answers, {}, now)
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 0)
        person = self.world.arrive("Ines@example.com", first_name="ines", look="moon")
        kept: Any = person.submissions.get().decision
        same = ("address", "is_new", "reading", "unmapped", "outcomes", "problems")
        dumped = sampled.as_json()
        self.assertEqual({key: kept[key] for key in same}, {key: dumped[key] for key in same})
