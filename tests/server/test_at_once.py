"""Things that happen at once, each in a thread with a connection of its own, and scanners."""

import re
import threading
from collections.abc import Callable
from datetime import timedelta
from html import unescape

from django.db import connections
from django.test import Client, TransactionTestCase

from core.documents import Because
from server.mail.actions import deliver_queued
from server.mail.confirming import set_confirming
from server.mail.deliver import deliver
from server.mail.models import Send
from server.people.models import Evidence, Fact, Membership, Subscriber, Tagging
from server.profiles.erasing import erase
from server.profiles.merges import merge_people
from server.routing.routing import route_submission
from server.sequences.models import Run
from server.submissions.models import Submission
from server.workspaces import clock
from server.workspaces.errors import Refused
from tests.world import WHY, RealMail, make_world


def at_once(*deeds: Callable[[], object]) -> list[BaseException]:
    """Do these in threads that begin together; what any of them raised."""
    raised: list[BaseException] = []
    gate = threading.Barrier(len(deeds))

    def run(deed: Callable[[], object]) -> None:
        try:
            gate.wait(timeout=10)
            deed()
        except BaseException as error:
            raised.append(error)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=run, args=(deed,)) for deed in deeds]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(timeout=60)
    return raised


class AtOnce(RealMail, TransactionTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.workspace = self.world.workspace

    def test_two_workers_and_two_submissions_of_one_new_address_make_one_person(self) -> None:
        for number in range(4):
            address = f"ines{number}@example.com"
            pair = [
                self.world.submit(address, first_name="Ines", look="moon"),
                self.world.submit(address.upper(), first_name="Ines", look="planets"),
            ]
            raised = at_once(*(lambda pk=str(one.pk): route_submission(pk) for one in pair))
            self.assertEqual(raised, [])
            person = Subscriber.objects.of(self.workspace).get(address_key=address)
            self.assertEqual(
                set(
                    Tagging.everywhere.filter(subscriber=person).values_list("tag__name", flat=True)
                ),
                {"guide", "moon", "planets"},
            )
            self.assertEqual(person.memberships.count(), 1)
            self.assertEqual(Run.everywhere.filter(subscriber=person).count(), 1)
            self.assertEqual(len(self.world.sends(subscriber=person)), 1)

    def test_two_workers_and_one_submission_decide_it_once(self) -> None:
        submission = self.world.submit("ines@example.com", first_name="Ines", look="moon")
        raised = at_once(*[lambda: route_submission(str(submission.pk))] * 3)
        self.assertEqual(raised, [])
        person = Subscriber.objects.of(self.workspace).get()
        facts = Fact.everywhere.filter(subscriber=person)
        for kind, count in (("submitted", 1), ("added", 1), ("tag", 2), ("membership", 1)):
            self.assertEqual(facts.filter(kind=kind).count(), count, kind)
        self.assertEqual(len(self.world.sends()), 1)
        submission.refresh_from_db()
        self.assertEqual(submission.state, Submission.State.ROUTED)

    def queued(self, person: Subscriber, number: int) -> Send:
        """A marketing email that waits to be handed over."""
        return Send.everywhere.create(
            workspace=self.workspace,
            subscriber=person,
            message=self.world.guide,
            list=self.world.news,
            origin=f"test/{number}",
            because=WHY,
            queued_at=clock.now(self.workspace),
        )

    def test_of_two_emails_at_once_one_waits_for_who_asked_for_fewer(self) -> None:
        person = self.world.arrive("ines@example.com")
        Send.everywhere.filter(subscriber=person).delete()
        Subscriber.everywhere.filter(pk=person.pk).update(gap_days=7)
        rows = [self.queued(person, number) for number in range(3)]
        raised = at_once(*(lambda pk=str(one.pk): deliver(pk) for one in rows))
        self.assertEqual(raised, [])
        states = sorted(Send.everywhere.get(pk=one.pk).state for one in rows)
        self.assertEqual(states, ["queued", "queued", "sent"])
        # What one worker had in hand, the others left alone; next time they wait for the week.
        deliver_queued(self.workspace)
        states = sorted(Send.everywhere.get(pk=one.pk).state for one in rows)
        self.assertEqual(states, ["queued", "queued", "sent"])
        waiting = Send.everywhere.filter(subscriber=person, state="queued")
        self.assertFalse(waiting.filter(not_before=None).exists())

    def test_emails_queued_longer_ago_than_the_gap_keep_it_too(self) -> None:
        person = self.world.arrive("ines@example.com")
        Send.everywhere.filter(subscriber=person).delete()
        Subscriber.everywhere.filter(pk=person.pk).update(gap_days=7)
        rows = [self.queued(person, number) for number in range(2)]
        long_ago = clock.now(self.workspace) - timedelta(days=30)
        Send.everywhere.filter(subscriber=person).update(queued_at=long_ago)
        for one in rows:
            deliver(str(one.pk))
        states = [Send.everywhere.get(pk=one.pk).state for one in rows]
        self.assertEqual(states, ["sent", "queued"])
        # The first was not read from its time of queuing: the second waits for a week from now.
        waits = Send.everywhere.get(pk=rows[1].pk).not_before
        assert waits is not None
        self.assertGreater(waits - clock.now(self.workspace), timedelta(days=6))

    def test_two_merges_of_the_same_two_at_once_are_one(self) -> None:
        kept = self.world.arrive("ines@example.com", look="moon")
        gone = self.world.arrive("old@example.com", look="planets")
        because = Because(kind="member", sentence="merged by Noor")
        raised = at_once(
            lambda: merge_people(kept, gone, frozenset(), because),
            lambda: merge_people(gone, kept, frozenset(), because),
        )
        self.assertEqual([type(one) for one in raised], [Refused])
        [person] = Subscriber.objects.of(self.workspace)
        self.assertEqual(self.world.tags_of(person), {"guide", "moon", "planets"})

    def test_what_comes_in_while_somebody_is_erased_loses_nothing_and_brings_nothing_back(
        self,
    ) -> None:
        person = self.world.arrive("ines@example.com", look="moon")
        again = self.world.submit("ines@example.com", look="planets")
        raised = at_once(lambda: erase(person), lambda: route_submission(str(again.pk)))
        self.assertEqual(raised, [])
        again.refresh_from_db()
        found = list(Subscriber.objects.of(self.workspace))
        # Decided before: it went with them. Decided after: a form of their own, somebody new.
        if found:
            self.assertEqual(again.subscriber, found[0])
            self.assertEqual(self.world.tags_of(found[0]), {"guide", "planets"})
        else:
            self.assertEqual(again.answers, [])

    def test_two_confirmations_at_once_confirm_once(self) -> None:
        set_confirming(self.world.news, True, None)
        person = self.world.arrive("ines@example.com")
        deliver_queued(self.workspace)
        [path] = [one for one in self.links() if one.startswith("/c/")]
        answers: list[int] = []

        def confirm() -> None:
            answers.append(Client().post(path).status_code)

        self.assertEqual(at_once(confirm, confirm, confirm), [])
        self.assertEqual(answers, [200, 200, 200])
        self.assertEqual(person.memberships.get().state, "subscribed")
        proofs = Evidence.everywhere.filter(membership__subscriber=person)
        self.assertEqual(
            sorted((one.before, one.after) for one in proofs),
            [("none", "pending"), ("pending", "subscribed")],
        )

    def test_leaving_and_coming_at_once_ends_in_one_of_the_two(self) -> None:
        person = self.world.arrive("ines@example.com")
        deliver_queued(self.workspace)
        [path] = {one for one in self.links() if one.startswith("/u/")}
        again = self.world.submit("ines@example.com", look="moon")
        raised = at_once(
            lambda: Client().post(path, {"List-Unsubscribe": "One-Click"}),
            lambda: route_submission(str(again.pk)),
        )
        self.assertEqual(raised, [])
        membership = person.memberships.get()
        last = Evidence.everywhere.filter(membership=membership).order_by("at", "pk").last()
        assert last is not None
        # Whatever came last, the evidence says what is so.
        self.assertEqual(membership.state, last.after)

    def links(self) -> list[str]:
        """The paths of our own links in every email that arrived, headers included."""
        found = []
        for letter in self.mailbox.list():
            text = letter.part("html") + letter.part("plain")
            text += str(letter.message["List-Unsubscribe"] or "")
            found += re.findall(r"https?://127\.0\.0\.1:8400(/[^\s\"'<>()]+)", unescape(text))
        return list(dict.fromkeys(found))

    def test_a_scanner_that_fetches_every_link_changes_nothing(self) -> None:
        set_confirming(self.world.news, True, None)
        self.world.arrive("pending@example.com", first_name="Pending")
        deliver_queued(self.workspace)
        set_confirming(self.world.news, False, None)
        self.world.arrive("ines@example.com", first_name="Ines")
        deliver_queued(self.workspace)

        def state() -> tuple[object, ...]:
            return (
                sorted(Membership.everywhere.values_list("subscriber__address", "state")),
                Evidence.everywhere.count(),
                Fact.everywhere.count(),
                Submission.everywhere.count(),
                len(self.world.sends()),
            )

        before = state()
        paths = self.links()
        self.assertTrue(any(one.startswith("/c/") for one in paths))
        self.assertTrue(any(one.startswith("/u/") for one in paths))
        for path in paths:
            for method in ("get", "head", "options"):
                answer = getattr(Client(), method)(path)
                self.assertLess(answer.status_code, 500, (method, path))
        self.assertEqual(state(), before)
