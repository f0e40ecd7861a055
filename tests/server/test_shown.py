"""Consent is decided by what the visitor saw, and only by what came after they last left."""

from datetime import timedelta

from django.test import TestCase

from core.deciding import ChangeSubscription, ConsentLine, RemoveTags, Rule
from core.documents import Because
from server.people.actions import make_list
from server.people.memberships import unsubscribe
from server.people.models import Evidence, Subscriber
from server.routing.routing import route_submission
from server.snags.actions import report
from server.snags.models import Snag
from server.submissions.log import hold, release, route_again
from server.submissions.models import Submission
from server.workspaces import clock
from tests.world import make_world

OWN = Because(kind="person", sentence="they said so")


class Consent(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace

    def line(self, wording: str, **more: bool) -> tuple[ConsentLine, ...]:
        return (ConsentLine(id="c1", list=str(self.world.news.pk), wording=wording, **more),)

    def routed(self, submission: Submission) -> Submission:
        route_submission(str(submission.pk))
        submission.refresh_from_db()
        return submission

    def state(self) -> str | None:
        person = Subscriber.objects.of(self.workspace).get()
        row = person.memberships.filter(list=self.world.news).first()
        return row.state if row else None

    def later(self, **by: float) -> None:
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(**by))

    def test_the_evidence_quotes_the_revision_that_was_shown(self) -> None:
        submission = self.world.submit("ines@example.com")
        self.world.change_route(consent=self.line("New words that nobody saw"))
        self.routed(submission)
        proof = Evidence.objects.of(self.workspace).get()
        self.assertEqual(proof.wording, "You also get the news.")
        assert submission.shown is not None and submission.revision is not None
        self.assertEqual((submission.shown.number, submission.revision.number), (1, 2))
        self.assertEqual(proof.because["revision"], 1)

    def test_who_saw_no_consent_line_is_subscribed_to_nothing(self) -> None:
        self.world.change_route(consent=())
        submission = self.world.submit("ines@example.com")
        self.world.change_route(consent=self.line("New words that nobody saw"))
        self.routed(submission)
        self.assertIsNone(self.state())

    def test_an_older_opt_in_brings_nobody_back_by_hold_and_release(self) -> None:
        held = self.world.submit("ines@example.com", look="moon")
        hold(self.workspace, [held.pk], "a member held it")
        person = self.world.arrive("ines@example.com")
        for lists in (None, type(self.world.news).objects.of(self.workspace)):
            self.later(days=30)
            unsubscribe(person, lists, OWN, "email")
        self.later(days=30)
        release(self.workspace, [held.pk])
        self.routed(held)
        self.assertEqual((held.state, self.state()), ("routed", "unsubscribed"))
        # A new one of their own does.
        self.world.arrive("ines@example.com", look="planets")
        self.assertEqual(self.state(), "subscribed")

    def test_nor_by_routing_again(self) -> None:
        stuck = self.world.submit("ines@example.com", look="moon")
        Submission.everywhere.filter(pk=stuck.pk).update(state="stuck")
        person = self.world.arrive("ines@example.com")
        self.later(days=1)
        unsubscribe(person, None, OWN, "email")
        self.later(days=1)
        snag = report(self.workspace, Snag.About.SUBMISSION, "c", "s")
        Submission.everywhere.filter(pk=stuck.pk).update(snag=snag)
        self.assertEqual(route_again(self.workspace, snag), 1)
        self.routed(stuck)
        self.assertEqual(self.state(), "unsubscribed")

    def test_leaving_all_lists_also_holds_for_one_never_joined(self) -> None:
        other = make_list(self.workspace, "Shop offers")
        person = self.world.arrive("ines@example.com")
        line = (ConsentLine(id="c1", list=str(other.pk), wording="And the offers."),)
        self.world.change_route(consent=line)
        held = self.world.submit("ines@example.com", look="moon")
        hold(self.workspace, [held.pk], "held")
        self.later(days=1)
        unsubscribe(person, None, OWN, "email")
        release(self.workspace, [held.pk])
        self.routed(held)
        self.assertFalse(person.memberships.filter(list=other).exists())

    def test_pending_becomes_subscribed_by_no_rule(self) -> None:
        self.world.change_route(consent=self.line("A", confirm=True))
        self.world.arrive("ines@example.com")
        self.assertEqual(self.state(), "pending")
        action = ChangeSubscription(list=str(self.world.news.pk), direction="subscribe")
        self.world.change_route(consent=self.line("B"), then=(Rule(id="t2", action=action),))
        self.world.arrive("ines@example.com", first_name="X")
        self.assertEqual(self.state(), "pending")

    def test_two_consent_lines_for_one_list(self) -> None:
        news = str(self.world.news.pk)
        lines = (
            ConsentLine(id="c1", list=news, wording="A", confirm=True),
            ConsentLine(id="c2", list=news, wording="B"),
        )
        for order in (lines, lines[::-1]):
            self.world.change_route(consent=order)
            person = self.world.arrive(f"ines{order[0].id}@example.com")
            row = person.memberships.get()
            self.assertEqual(row.state, "pending")
            self.assertEqual(row.evidence.count(), 1)


class Order(TestCase):
    """What is received of one person later wins, whatever brings it first."""

    def setUp(self) -> None:
        self.world = make_world()

    def name(self) -> str:
        return str(Subscriber.objects.of(self.world.workspace).get().values["first_name"])

    def test_the_newer_job_runs_first(self) -> None:
        old = self.world.submit("ines@example.com", first_name="Old")
        new = self.world.submit("ines@example.com", first_name="New")
        route_submission(str(new.pk))
        old.refresh_from_db()
        self.assertEqual((old.state, self.name()), ("routed", "New"))
        route_submission(str(old.pk))
        self.assertEqual(self.name(), "New")

    def test_an_older_one_that_was_held_overwrites_nothing(self) -> None:
        old = self.world.submit("ines@example.com", first_name="Old", look="moon")
        hold(self.world.workspace, [old.pk], "held")
        person = self.world.arrive("ines@example.com", first_name="New", look="planets")
        release(self.world.workspace, [old.pk])
        route_submission(str(old.pk))
        self.assertEqual(self.name(), "New")
        # What nothing has touched since is done.
        self.assertEqual(self.world.tags_of(person), {"guide", "planets", "moon"})

    def test_a_tag_that_was_removed_since_stays_off(self) -> None:
        old = self.world.submit("ines@example.com", look="moon")
        hold(self.world.workspace, [old.pk], "held")
        person = self.world.arrive("ines@example.com", look="moon", first_name="A")
        route = self.world.change_route()
        tag = str(person.tags.get(name="moon").pk)
        self.world.change_route(then=(Rule(id="t9", action=RemoveTags(tags=(tag,))),))
        self.world.arrive("ines@example.com", first_name="B")
        self.world.change_route(then=route.then)
        release(self.world.workspace, [old.pk])
        route_submission(str(old.pk))
        self.assertEqual(self.world.tags_of(person), {"guide"})
