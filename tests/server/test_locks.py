"""One lock order: whatever is done to one person at once, nobody is lost to a deadlock."""

import threading
from collections.abc import Callable
from functools import partial
from typing import Any
from unittest import mock

from django.db import connections
from django.test import Client, TransactionTestCase, override_settings

from core.deciding import Rule, TagFromAnswer
from core.documents import Because
from server.mail import deliver as delivering
from server.mail.deliver import deliver, resolve_abandoned
from server.mail.models import Send
from server.people.chain import broken_chains
from server.people.links import leave_token
from server.people.locks import retried
from server.people.models import Fact, Membership, Subscriber, Tag
from server.profiles.erasing import erase
from server.profiles.merges import _Merging, merge_people
from server.routing.routing import route_submission
from server.submissions.models import Submission
from tests.world import RealMail, make_world

OWN = Because(kind="person", sentence="they said so")


def at_once(*actions: Callable[[], Any], seconds: float = 30) -> list[Exception]:
    """Run actions in threads of their own; what they raised."""
    raised: list[Exception] = []

    def run(action: Callable[[], Any]) -> None:
        try:
            action()
        except Exception as error:
            raised.append(error)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=run, args=(one,)) for one in actions]
    for one in threads:
        one.start()
    for one in threads:
        one.join(seconds)
    assert not any(one.is_alive() for one in threads), "something waits for ever"
    return raised


class Locks(RealMail, TransactionTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.workspace = self.world.workspace

    def fresh(self, person: Subscriber) -> Subscriber:
        found: Subscriber = Subscriber.everywhere.select_related("workspace").get(pk=person.pk)
        return found

    def test_one_click_in_the_middle_of_a_merge_is_never_lost(self) -> None:
        kept = self.world.arrive("ines@example.com")
        gone = self.world.arrive("noor@example.com")
        send = Send.everywhere.filter(subscriber=gone).first()
        assert send is not None
        inside = threading.Event()
        real = _Merging._runs
        answers: list[int] = []

        def slow(merging: _Merging) -> None:
            inside.set()
            threading.Event().wait(0.5)
            real(merging)

        def merge() -> None:
            with mock.patch.object(_Merging, "_runs", slow):
                merge_people(self.fresh(kept), self.fresh(gone), frozenset(), OWN)

        def leave() -> None:
            inside.wait(5)
            path = f"/u/{leave_token(str(send.pk))}"
            answers.append(Client().post(path, {"List-Unsubscribe": "One-Click"}).status_code)

        self.assertEqual(at_once(merge, leave), [])
        self.assertEqual(answers, [200])
        (row,) = Membership.everywhere.filter(subscriber=kept)
        self.assertEqual(row.state, "unsubscribed")
        self.assertEqual(list(broken_chains(self.workspace)), [])

    def test_a_merge_while_the_mail_server_is_spoken_to(self) -> None:
        kept = self.world.arrive("ines@example.com")
        gone = self.world.arrive("noor@example.com")
        send = Send.everywhere.get(subscriber=gone)
        real = delivering.hand_over

        def speak(mail: Any) -> None:
            real(mail)
            merge = at_once(
                lambda: merge_people(self.fresh(kept), self.fresh(gone), frozenset(), OWN)
            )
            self.assertEqual(merge, [])

        with mock.patch.object(delivering, "hand_over", speak):
            deliver(str(send.pk))
        resolve_abandoned([send.pk])
        send.refresh_from_db()
        self.assertEqual((send.state, send.subscriber_id), ("sent", kept.pk))
        self.assertEqual(len(self.mailbox.list("noor@example.com")), 1)
        self.assertTrue(Fact.everywhere.filter(subscriber=kept, kind="sent").exists())

    def test_somebody_erased_while_the_mail_server_is_spoken_to(self) -> None:
        person = self.world.arrive("ines@example.com")
        send = Send.everywhere.get()
        real = delivering.hand_over

        def speak(mail: Any) -> None:
            real(mail)
            self.assertEqual(at_once(lambda: erase(self.fresh(person))), [])

        with mock.patch.object(delivering, "hand_over", speak):
            deliver(send.pk)
        self.assertFalse(Send.everywhere.exists())
        self.assertFalse(Subscriber.everywhere.exists())

    def test_everything_at_once_about_two_people(self) -> None:
        """Routing, sending, leaving, merging: each in its own thread, again and again."""
        for turn in range(3):
            one = self.world.arrive(f"a{turn}@example.com")
            two = self.world.arrive(f"b{turn}@example.com")
            sends = list(Send.everywhere.filter(subscriber__in=[one, two]))
            more = [
                self.world.submit(f"{name}{turn}@example.com", first_name=f"N{number}")
                for number in range(3)
                for name in "ab"
            ]
            paths = [f"/u/{leave_token(str(send.pk))}" for send in sends]
            raised = at_once(
                *(lambda pk=row.pk: route_submission(str(pk)) for row in more),
                *(lambda pk=send.pk: deliver(str(pk)) for send in sends),
                *(
                    lambda path=path: Client().post(path, {"List-Unsubscribe": "x"})
                    for path in paths
                ),
                partial(merge_people, self.fresh(one), self.fresh(two), frozenset(), OWN),
            )
            self.assertEqual(raised, [])
            self.assertFalse(Submission.everywhere.filter(state="received").exists())
        self.assertEqual(list(broken_chains(self.workspace)), [])

    def test_two_batches_that_make_the_same_tags(self) -> None:
        self.world.change_route(
            then=(
                Rule(id="t1", action=TagFromAnswer(question="look", prefix="x: ")),
                Rule(id="t2", action=TagFromAnswer(question="first_name", prefix="x: ")),
            )
        )
        looks = ("moon", "planets")
        rows = [
            self.world.submit(
                f"p{number}@example.com", look=looks[number % 2], first_name=looks[-number % 2 - 1]
            )
            for number in range(6)
        ]
        with override_settings(POSTS_PER_VISITOR=0):
            raised = at_once(*(lambda pk=row.pk: route_submission(str(pk)) for row in rows))
        self.assertEqual(raised, [])
        self.assertEqual(Tag.everywhere.filter(folded__startswith="x:").count(), 2)

    def test_what_postgresql_ends_is_done_again(self) -> None:
        """A real deadlock: two rows taken crosswise."""
        one = self.world.arrive("ines@example.com")
        two = self.world.arrive("noor@example.com")
        both = threading.Barrier(2, timeout=10)
        first: set[str] = set()

        def cross(name: str, here: Subscriber, there: Subscriber) -> Callable[[], None]:
            @retried
            def run() -> None:
                Subscriber.everywhere.filter(pk=here.pk).update(score=1)
                if name not in first:
                    first.add(name)
                    both.wait()
                Subscriber.everywhere.filter(pk=there.pk).update(score=2)

            return run

        self.assertEqual(at_once(cross("a", one, two), cross("b", two, one)), [])
