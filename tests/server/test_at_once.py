"""Things that happen at once, each in a thread with a connection of its own, and scanners."""

import re
import threading
from collections.abc import Callable
from html import unescape

from django.db import connections
from django.test import Client, TransactionTestCase

from server.intake.models import Submission
from server.intake.routing import route_submission
from server.mail.actions import deliver_queued
from server.mail.confirming import set_confirming
from server.people.models import Evidence, Fact, Membership, Subscriber, Tagging
from server.sequences.models import Run
from tests.world import RealMail, make_world


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
