"""Two people who are one: everything moves, and for a day everything can move back."""

from datetime import timedelta
from typing import Any

from django.apps import apps
from django.db import models

from core.documents import Because
from server.doors.models import DoorHeld, DoorSeen
from server.mail.models import Send
from server.people.memberships import unsubscribe
from server.people.models import (
    FrozenMember,
    Membership,
    Merge,
    OwnRequest,
    Subscriber,
    Suppression,
    Tagging,
)
from server.people.suppression import suppress, suppressed_among
from server.profiles.addresses import change_address
from server.profiles.merges import forget_merges, merge_people, merges_of, undo_merge
from server.sequences.models import ForecastPerson, Run
from server.workspaces import clock
from server.workspaces.errors import Refused
from server.workspaces.personal import moving
from tests.server.test_references import Api

BY = Because(kind="member", sentence="merged by Noor")
OWN = Because(kind="person", sentence="they unsubscribed on the page behind the link")


class Merging(Api):
    def setUp(self) -> None:
        super().setUp()
        self.kept = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        self.gone = self.world.arrive("old@example.com", first_name="Agnes", look="planets")

    def merge(self, *chosen: str) -> Merge:
        return merge_people(self.kept, self.gone, frozenset(chosen), BY)

    def everything(self, person: Subscriber) -> dict[str, Any]:
        """All rows that hang on somebody, as they stand."""
        found: dict[str, Any] = {}
        for relation in Subscriber._meta.related_objects:
            model: Any = relation.related_model
            name = relation.field.name
            if relation.one_to_many and model._meta.label not in ("people.Merge", "people.Fact"):
                rows = model.everywhere.filter(**{name: person.pk}).order_by("pk")
                found[model._meta.label] = list(rows.values())
        person.refresh_from_db()
        found["person"] = (person.address, person.values, person.score, person.owner_id)
        return found


class Registered(Merging):
    def test_every_row_that_hangs_on_a_person_is_thought_of(self) -> None:
        hanging = {
            model
            for model in apps.get_models()
            for one in model._meta.concrete_fields
            if one.is_relation and one.related_model is Subscriber
        }
        # These have rules of their own.
        by_rule = {Tagging, FrozenMember, Membership, Run, Merge, OwnRequest}
        by_rule |= {DoorHeld, DoorSeen, ForecastPerson}
        self.assertEqual(hanging - by_rule, set(moving()))


class Carried(Merging):
    def test_everything_moves_to_the_one_who_is_kept(self) -> None:
        sends = len(self.world.sends())
        self.merge()
        self.assertFalse(Subscriber.objects.of(self.workspace).filter(pk=self.gone.pk).exists())
        self.assertEqual(self.world.tags_of(self.kept), {"guide", "moon", "planets"})
        self.assertEqual(self.kept.submissions.count(), 2)
        self.assertEqual(self.kept.sends.count(), sends)
        self.assertEqual(self.kept.memberships.get().evidence.count(), 2)
        self.assertTrue(self.kept.facts.filter(kind="merged").exists())
        self.kept.refresh_from_db()
        self.assertEqual(self.kept.values["first_name"], "Ines")

    def test_a_member_can_choose_the_other_value(self) -> None:
        self.merge("first_name")
        self.kept.refresh_from_db()
        self.assertEqual(self.kept.values["first_name"], "Agnes")
        newest = self.kept.facts.filter(kind="field").order_by("-at").first()
        assert newest is not None
        self.assertEqual(newest.because["sentence"], "merged by Noor")

    def test_nobody_who_left_is_brought_back(self) -> None:
        unsubscribe(self.gone, None, OWN, "email")
        self.merge()
        row = self.kept.memberships.get()
        self.assertEqual((row.state, row.because["sentence"]), ("unsubscribed", "merged by Noor"))
        states = row.evidence.order_by("at").values_list("after", flat=True)
        self.assertEqual(list(states)[-1], "unsubscribed")

    def test_of_two_runs_one_goes_on(self) -> None:
        self.merge()
        self.assertEqual(self.kept.runs.filter(ended_at=None).count(), 1)
        self.assertEqual(Run.objects.of(self.workspace).count(), 1)

    def test_the_run_under_way_replaces_one_that_ended(self) -> None:
        run = self.kept.runs.get()
        run.ended, run.ended_at, run.due_at = "finished", run.entered_at, None
        run.save()
        other = self.gone.runs.get()
        made = self.merge()
        self.assertEqual(self.kept.runs.get().pk, other.pk)
        undo_merge(made, BY)
        self.assertEqual(self.kept.runs.get().pk, run.pk)
        self.assertEqual(Run.everywhere.get(pk=other.pk).subscriber_id, self.gone.pk)

    def test_a_suppressed_address_suppresses_who_stays(self) -> None:
        suppress(self.workspace, ["old@example.com"], "asked by phone", None)
        self.merge()
        self.assertTrue(suppressed_among(self.workspace, ["ines@example.com"]))

    def test_the_same_and_tests_are_not_merged(self) -> None:
        with self.assertRaises(Refused):
            merge_people(self.kept, self.kept, frozenset(), BY)
        self.gone.is_test = True
        with self.assertRaises(Refused):
            merge_people(self.kept, self.gone, frozenset(), BY)

    def test_every_row_that_hangs_on_a_person_has_an_outcome(self) -> None:
        """A relation that is new has to be thought of in `merges`, or it would be lost."""
        known = {
            "people.Tagging",
            "people.FrozenMember",
            "people.Membership",
            "people.Fact",
            "people.Task",
            "people.Merge",
            "people.FormerAddress",
            "people.OwnRequest",
            "people.Subscriber_tags",
            "mail.Send",
            "mail.Returned",
            "sequences.Run",
            "submissions.Submission",
            "replays.ReplayLine",
            "services.Handoff",
        }
        found = {
            one.related_model._meta.label
            for one in Subscriber._meta.related_objects
            if isinstance(one.related_model, type) and issubclass(one.related_model, models.Model)
        }
        self.assertLessEqual(found, known)


class Undone(Merging):
    def test_it_is_as_it_was(self) -> None:
        before = self.everything(self.kept), self.everything(self.gone)
        made = self.merge("first_name")
        undo_merge(made, BY)
        gone = Subscriber.everywhere.get(pk=self.gone.pk)
        after = self.everything(self.kept), self.everything(gone)
        for was, now in zip(before, after, strict=True):
            for label in was:
                if label == "people.Membership":
                    states = [[one["state"] for one in rows] for rows in (was[label], now[label])]
                    self.assertEqual(*states)
                elif label != "sequences.Run":
                    self.assertEqual(was[label], now[label], label)
        self.assertEqual(
            [run.ended_at for run in (self.kept.runs.get(), gone.runs.get())], [None, None]
        )

    def test_what_came_since_stays_with_the_one_who_was_kept(self) -> None:
        made = self.merge()
        self.world.arrive("ines@example.com", first_name="Inês", look="planets")
        undo_merge(made, BY)
        self.kept.refresh_from_db()
        self.assertEqual(self.kept.values["first_name"], "Inês")
        self.assertEqual(self.kept.submissions.count(), 2)

    def test_whoever_left_since_has_left_under_both(self) -> None:
        made = self.merge()
        unsubscribe(self.kept, None, OWN, "email")
        gone = undo_merge(made, BY)
        for person in (self.kept, gone):
            self.assertEqual(person.memberships.get().state, "unsubscribed")

    def test_what_was_queued_is_queued_again(self) -> None:
        queued = [one.pk for one in self.world.sends(subscriber=self.gone, state="queued")]
        self.assertTrue(queued)
        made = self.merge()
        self.assertFalse(Send.everywhere.filter(pk__in=queued, state="queued").exists())
        undo_merge(made, BY)
        self.assertEqual(Send.everywhere.filter(pk__in=queued, state="queued").count(), len(queued))

    def test_only_once_only_for_a_day_and_only_while_the_address_is_free(self) -> None:
        made = self.merge()
        self.world.arrive("old@example.com")
        with self.assertRaisesMessage(Refused, "Somebody has the address"):
            undo_merge(made, BY)
        again = merge_people(
            self.kept, Subscriber.objects.of(self.workspace).get(address="old@example.com"),
            frozenset(), BY,
        )  # fmt: skip
        with self.assertRaisesMessage(Refused, "later merge"):
            undo_merge(made, BY)
        undo_merge(again, BY)
        with self.assertRaises(Refused):
            undo_merge(again, BY)
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(days=1, minutes=1))
        with self.assertRaises(Refused):
            undo_merge(made, BY)
        self.kept.workspace.refresh_from_db()
        self.assertEqual(merges_of(self.kept), [])
        self.assertEqual(forget_merges(self.workspace), 1)
        made.refresh_from_db()
        self.assertEqual((made.restore, made.gone_address), ({}, ""))


class Addresses(Merging):
    def test_history_and_memberships_follow(self) -> None:
        same = change_address(self.kept, "Ines@New.example", OWN)
        self.assertEqual((same.pk, same.address), (self.kept.pk, "Ines@new.example"))
        self.assertEqual(same.memberships.get().state, "subscribed")
        self.assertEqual(self.world.arrive("ines@new.example").pk, self.kept.pk)
        fact = same.facts.get(kind="address")
        self.assertEqual(fact.what, {"before": "ines@example.com", "after": "Ines@new.example"})

    def test_one_who_has_it_already_is_merged(self) -> None:
        found = change_address(self.gone, "ines@example.com", OWN)
        self.assertEqual(found.pk, self.kept.pk)
        self.assertEqual(self.world.tags_of(found), {"guide", "moon", "planets"})

    def test_a_suppression_goes_along(self) -> None:
        suppress(self.workspace, ["ines@example.com"], "complained", None)
        change_address(self.kept, "ines@new.example", OWN)
        self.assertEqual(
            Suppression.objects.of(self.workspace).get(key="ines@new.example").reason, "complained"
        )

    def test_nobody_who_left_comes_back_by_another_address(self) -> None:
        unsubscribe(self.gone, None, OWN, "email")
        found = change_address(self.gone, "ines@example.com", OWN)
        self.assertEqual(found.memberships.get().state, "unsubscribed")

    def test_what_is_no_address_is_refused(self) -> None:
        for text in ("", "not one", "a@b@c"):
            with self.assertRaises(Refused):
                change_address(self.kept, text, OWN)


class OverTheApi(Merging):
    def test_seen_done_and_undone(self) -> None:
        at = f"/people/{self.kept.pk}"
        other = {"other": str(self.gone.pk)}
        seen = self.send("post", f"{at}/merge-preview", other)["lines"]
        name = next(one for one in seen if one["key"] == "first_name")
        self.assertEqual((name["kept"], name["gone"], name["open"]), ("Ines", "Agnes", True))
        self.assertEqual(Subscriber.objects.of(self.workspace).count(), 2)
        [made] = self.send("post", f"{at}/merge", {**other, "fields": ["first_name"]})
        self.assertEqual(made["address"], "old@example.com")
        self.assertEqual(len(self.get(f"{at}/merges")), 1)
        parted = self.send("post", f"{at}/merges/{made['id']}/undo")
        self.assertEqual(parted["person"], str(self.gone.pk))
        self.assertEqual(self.get(f"{at}/merges"), [])
        told = [one["sentence"] for one in self.get("/history")["entries"]]
        self.assertEqual(told, ["undid a merge of two people", "merged two people"])

    def test_address_and_erasing(self) -> None:
        at = f"/people/{self.kept.pk}"
        self.send("put", f"{at}/address", {"address": "new@example.com"})
        self.kept.refresh_from_db()
        self.assertEqual(self.kept.address, "new@example.com")
        wrong = self.send("put", f"{at}/address", {"address": "no"}, status=422)
        self.assertEqual(wrong["errors"][0]["place"], "address")
        self.send("post", f"{at}/erase")
        self.get(at, status=404)

    def test_the_record_as_file_and_as_page(self) -> None:
        record = self.get(f"/people/{self.kept.pk}/record.json")
        self.assertEqual(record["address"], "ines@example.com")
        [listed] = record["lists"]
        self.assertEqual(listed["evidence"][0]["wording"], "You also get the news.")
        self.assertIn({"name": "look", "text": "moon"}, record["submissions"][0]["answers"])
        page = self.client.get(
            f"/api/workspaces/{self.workspace.slug}/people/{self.kept.pk}/record"
        )
        self.assertContains(page, "You also get the news.")
