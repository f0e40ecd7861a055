"""Rename, copy, archive, restore and delete: each says what it touches and undoes no past."""

from typing import Any

from django.test import TestCase

from server.mail.editing import make_message
from server.mail.models import Message, live_document
from server.sequences.actions import make_sequence
from server.sequences.models import Run, Sequence
from server.sources.actions import make_source, shown_revision
from server.sources.models import Source
from server.sources.things import archive, copy, delete, rename, restore, touches
from server.workspaces.errors import Refused
from tests.world import BACKEND, make_world


class Things(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.things: tuple[Any, ...] = (self.world.source, self.world.sequence, self.world.guide)

    def test_rename_what_routes_name_by_id(self) -> None:
        for number, thing in enumerate(self.things):
            rename(thing, f"  Renamed   {number} ")
            thing.refresh_from_db()
            self.assertEqual(thing.name, f"Renamed {number}")
        person = self.world.arrive("ines@example.com")
        run = Run.objects.of(self.workspace).get(subscriber=person)
        self.assertEqual(run.sequence_id, self.world.sequence.pk)

    def test_a_name_is_taken_once_of_a_kind(self) -> None:
        make_sequence(self.workspace, "Other", self.world.member)
        make_message(self.workspace, "Other")
        make_source(self.workspace, "Other", self.world.member)
        for thing in self.things:
            for name in ("other", "  OTHER ", "   "):
                with self.subTest(thing=thing.name, name=name), self.assertRaises(Refused):
                    rename(thing, name)
            thing.refresh_from_db()
            self.assertNotEqual(thing.name.lower(), "other")

    def test_a_copy_is_a_draft_of_the_same_content_and_no_history(self) -> None:
        self.world.arrive("ines@example.com")
        source = copy(self.world.source, "Second form", self.world.member)
        assert isinstance(source, Source)
        self.assertEqual(source.state, "draft")
        self.assertNotEqual(source.key, self.world.source.key)
        self.assertEqual(source.submissions.count(), 0)
        shown = shown_revision(source).document
        self.assertEqual(shown, shown_revision(self.world.source).document)
        sequence = copy(self.world.sequence, "Second sequence", self.world.member)
        assert isinstance(sequence, Sequence)
        self.assertEqual((sequence.state, sequence.runs.count()), ("draft", 0))
        mine = self.world.sequence.revisions.get(state="live").document
        self.assertEqual(sequence.revisions.get().document, mine)
        message = copy(self.world.guide, "Second guide", self.world.member)
        assert isinstance(message, Message)
        self.assertEqual(live_document(message), live_document(self.world.guide))
        self.assertEqual(message.sends.count(), 0)

    def test_an_archived_source_takes_nothing_and_comes_back_paused(self) -> None:
        address = f"/f/{self.world.source.key}"
        self.assertEqual(self.client.get(address).status_code, 200)
        archive(self.world.source)
        self.assertNotEqual(self.client.get(address).status_code, 200)
        restore(self.world.source)
        self.world.source.refresh_from_db()
        self.assertEqual(self.world.source.state, "paused")
        self.assertNotEqual(self.client.get(address).status_code, 200)

    def test_what_people_went_through_is_not_deleted(self) -> None:
        self.world.arrive("ines@example.com")
        for thing in self.things:
            with self.subTest(thing=thing.name):
                self.assertTrue(touches(thing).sentences)
                with self.assertRaises(Refused) as caught:
                    delete(thing)
                self.assertIn("Archive it instead", str(caught.exception))
        self.assertIn("1 submission came", " ".join(touches(self.world.source).sentences))
        self.assertIn("1 person in progress", " ".join(touches(self.world.sequence).sentences))

    def test_what_nothing_hangs_on_is_deleted(self) -> None:
        made = (
            copy(self.world.source, "a", None),
            copy(self.world.sequence, "b", None),
            copy(make_message(self.workspace, "lone"), "c", None),
        )
        for thing in made:
            pk, model = thing.pk, type(thing)
            delete(thing)
            self.assertFalse(model.objects.of(self.workspace).filter(pk=pk).exists())

    def test_a_message_in_live_use_is_not_archived(self) -> None:
        with self.assertRaises(Refused):
            archive(self.world.guide)
        lone = make_message(self.workspace, "lone")
        archive(lone)
        lone.refresh_from_db()
        self.assertIsNotNone(lone.archived_at)

    def test_over_http_with_a_refusal_that_says_why(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        self.world.arrive("ines@example.com")
        at = f"/api/workspaces/{self.workspace.slug}/things/source/{self.world.source.pk}"
        self.assertFalse(self.client.get(at).json()["deletable"])
        answer = self.client.delete(at)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("Archive it instead", answer.json()["title"])
        made = self.client.post(f"{at}/copy", {"name": "Another"}, "application/json")
        self.assertEqual(made.status_code, 200)
        again = f"/api/workspaces/{self.workspace.slug}/things/source/{made.json()['id']}"
        self.assertEqual(self.client.delete(again).status_code, 200)
        self.assertEqual(self.client.get(again).status_code, 404)
