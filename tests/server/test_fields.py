"""Fields that change once people have values in them, and pictures of forms."""

import io
from typing import Any

from django.db import transaction
from django.test import TestCase
from PIL import Image

from core.conditions import Comparison, FieldTest
from core.values import Choice
from server.audiences.query import audience_query
from server.people.actions import make_field
from server.people.facts import fields_of
from server.people.fields import (
    merge_fields,
    people_by_key,
    preview_retype,
    remove_field,
    rename_field,
    retype_field,
    set_choices,
)
from server.people.models import Fact, Field, Subscriber
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.errors import Refused
from server.workspaces.models import Workspace
from tests.world import BACKEND, make_world


class Fields(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.born = make_field(self.workspace, "Born", "text")
        for address, value in (
            ("a@example.com", "31/12/1980"),
            ("b@example.com", "1985-06-01"),
            ("c@example.com", "long ago"),
        ):
            person = self.world.arrive(address)
            person.values["born"] = value
            person.save()

    def value(self, address: str, key: str = "born") -> Any:
        return Subscriber.objects.of(self.workspace).get(address_key=address).values.get(key)

    def test_how_many_people_have_each(self) -> None:
        self.assertEqual(people_by_key(self.workspace), {"born": 3})

    def test_retyped_with_a_preview_of_what_cannot_be_read(self) -> None:
        seen = preview_retype(self.born, "date", (), "day_first")
        self.assertEqual((seen.people, seen.unreadable), (3, 1))
        self.assertEqual(seen.examples[0][0], "long ago")
        self.assertEqual(self.value("a@example.com"), "31/12/1980")
        done = retype_field(self.born, "date", (), "day_first", self.world.member)
        self.assertEqual((done.people, done.unreadable), (3, 1))
        self.assertEqual(self.value("a@example.com"), "1980-12-31")
        self.assertIsNone(self.value("c@example.com"))
        lost = Fact.everywhere.filter(subscriber__address="c@example.com", kind="field").get()
        self.assertEqual(lost.what["shown_before"], "long ago")
        self.assertEqual(lost.because["kind"], "member")

    def test_to_choices_by_their_labels(self) -> None:
        choices = (Choice(key="old", label="Long ago"), Choice(key="new", label="1985-06-01"))
        retype_field(self.born, "choice", choices, "unstated", None)
        self.assertEqual(self.value("c@example.com"), "old")
        self.assertIsNone(self.value("a@example.com"))
        with self.assertRaises(Refused):
            retype_field(self.born, "choice", choices[:1], "unstated", None)

    def test_merged_into_another(self) -> None:
        since = make_field(self.workspace, "Since", "text")
        person = Subscriber.objects.of(self.workspace).get(address_key="a@example.com")
        person.values["since"] = "kept"
        person.save()
        self.assertEqual(merge_fields(self.born, since, self.world.member), 2)
        self.assertEqual(self.value("a@example.com", "since"), "kept")
        self.assertEqual(self.value("c@example.com", "since"), "long ago")
        self.assertFalse(Field.objects.of(self.workspace).filter(key="born").exists())

    def test_removed_with_its_values(self) -> None:
        self.assertEqual(remove_field(self.born), 3)
        self.assertEqual(people_by_key(self.workspace), {})
        built_in = Field.objects.of(self.workspace).get(key="first_name")
        with self.assertRaises(Refused):
            remove_field(built_in)

    def test_a_field_made_anew_with_its_key_is_empty_for_every_way_of_asking(self) -> None:
        remove_field(self.born)
        anew = make_field(self.workspace, "Born", "text")
        self.assertEqual(anew.key, self.born.key)
        asked: tuple[tuple[Comparison, str], ...] = (
            ("is", "long ago"),
            ("contains", "198"),
            ("not_empty", ""),
        )
        now, catalogue = clock.now(self.workspace), full_catalogue(self.workspace)
        for op, value in asked:
            test = FieldTest(field=str(anew.pk), op=op, value=value)
            with self.subTest(op=op):
                self.assertFalse(audience_query(test, self.workspace, catalogue, now).exists())

    def test_what_was_rolled_back_is_in_no_catalogue(self) -> None:
        workspace = Workspace.objects.get(pk=self.workspace.pk)
        with self.assertRaises(ZeroDivisionError), transaction.atomic():
            ghost = make_field(workspace, "Ghost", "text")
            self.assertIn(str(ghost.pk), fields_of(workspace))
            raise ZeroDivisionError
        # Who asks next, and whatever is made then, sees what is stored.
        self.assertNotIn(str(ghost.pk), fields_of(Workspace.objects.get(pk=self.workspace.pk)))
        other = Workspace.objects.get(pk=self.workspace.pk)
        real = make_field(other, "Real", "text")
        self.assertNotIn(str(ghost.pk), fields_of(other))
        self.assertIn(str(real.pk), fields_of(other))

    def test_renamed_while_its_key_stays(self) -> None:
        self.assertEqual(rename_field(self.born, "Birthday").key, "born")
        with self.assertRaises(Refused):
            rename_field(self.born, "first name")

    def test_choices_have_keys_of_their_own(self) -> None:
        field = make_field(self.workspace, "Sky", "choice")
        set_choices(field, (Choice(key="dark", label="Dark"), Choice(key="lit", label="Lit")))
        with self.assertRaises(Refused):
            set_choices(field, (Choice(key="dark", label="A"), Choice(key="dark", label="B")))
        with self.assertRaises(Refused):
            set_choices(self.born, ())

    def test_routes_that_fill_a_field_stand_beside_it(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.workspace.slug}/fields/use"
        use = {one["field"]: one for one in self.client.get(at).json()}
        first = Field.objects.of(self.workspace).get(key="first_name")
        self.assertEqual(use[str(first.pk)]["routes"][0]["name"], "Telescope guide")
        self.assertEqual(use[str(self.born.pk)]["people"], 3)


class Pictures(TestCase):
    def test_a_picture_is_written_anew_and_served(self) -> None:
        world = make_world()
        self.client.force_login(world.user, BACKEND)
        out = io.BytesIO()
        Image.new("RGB", (2400, 600), "#224466").save(out, "PNG")
        at = f"/api/workspaces/{world.workspace.slug}/pictures"
        kept = self.client.post(at, out.getvalue() + b"<script>", "application/octet-stream")
        self.assertEqual(kept.json()["width"], 1600)
        shown = self.client.get(f"/pictures/{kept.json()['id']}")
        self.assertEqual(shown.headers["Content-Type"], "image/jpeg")
        self.assertNotIn(b"<script>", shown.content)

    def test_what_is_no_picture(self) -> None:
        world = make_world()
        self.client.force_login(world.user, BACKEND)
        at = f"/api/workspaces/{world.workspace.slug}/pictures"
        for body in (b"", b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"GIF89a"):
            answer = self.client.post(at, body, "application/octet-stream")
            self.assertEqual(answer.status_code, 422, body)
