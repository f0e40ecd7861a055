"""Tags and memberships of many people in two statements, as they are one by one."""

from django.test import TestCase

from server.people.actions import make_tag
from server.people.at_hand import memberships_of, prefetch_relations, tags_of
from server.people.facts import person_of
from server.people.models import Membership, Subscriber, Tagging
from tests.world import make_world


class AtHand(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        for address in ("ines@example.com", "bo@example.com", "kit@example.com"):
            self.world.arrive(address)
        ines, bo, _ = self.people()
        tags = [make_tag(self.world.workspace, one) for one in "xyz"]
        for person, theirs in ((ines, tags), (bo, tags[:1])):
            for tag in theirs:
                Tagging(
                    workspace=self.world.workspace,
                    subscriber=person,
                    tag=tag,
                    at=person.added_at,
                    cause=person.memberships.get().cause,
                ).save()
        Membership.everywhere.filter(subscriber=bo).update(state="unsubscribed")

    def people(self) -> list[Subscriber]:
        rows = Subscriber.objects.of(self.world.workspace).select_related("workspace")
        found = {one.address: one for one in rows}
        return [found[f"{name}@example.com"] for name in ("ines", "bo", "kit")]

    def test_two_statements_for_all_and_the_same_as_one_by_one(self) -> None:
        each, together = self.people(), self.people()
        with self.assertNumQueries(2):
            prefetch_relations(together)
        with self.assertNumQueries(0):
            found = [person_of(one) for one in together]
        self.assertEqual(found, [person_of(one) for one in each])
        self.assertEqual([len(one.tags) for one in found], [3 + 1, 1 + 1, 0 + 1])
        self.assertEqual(
            [[*one.memberships.values()] for one in found],
            [["subscribed"], ["unsubscribed"], ["subscribed"]],
        )

    def test_what_is_at_hand_is_not_read_again(self) -> None:
        together = self.people()
        prefetch_relations(together, tags=False)
        [row] = memberships_of(together[0])
        row.state = "unsubscribed"
        with self.assertNumQueries(1):
            prefetch_relations(together)
        self.assertIs(next(iter(memberships_of(together[0]))), row)
        self.assertEqual(len(list(tags_of(together[0]))), 4)

    def test_nobody_and_one_person_twice(self) -> None:
        with self.assertNumQueries(0):
            prefetch_relations([])
        [one, *_], [again, *_] = self.people(), self.people()
        prefetch_relations([one, again])
        self.assertEqual(person_of(one), person_of(again))
