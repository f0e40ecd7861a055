"""The rooms through their API: the desk, names, settings, counts, live changes, doors."""

import json
from datetime import timedelta
from typing import Any

from django.test import TestCase

from core.sequences import Lane, SendStep, SequenceDocument
from server.mail.models import Send
from server.people.actions import make_field, make_list, make_tag
from server.sequences import actions as sequences
from server.sequences.models import Run
from server.sequences.moving_time import move_time
from server.workspaces import clock
from server.workspaces.actions import make_workspace
from server.workspaces.errors import Refused
from tests.world import BACKEND, RealMail, make_world


class Rooms(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.world.workspace.slug}"

    def get(self, path: str) -> Any:
        answer = self.client.get(f"{self.at}/{path}")
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def send(self, method: str, path: str, body: dict[str, Any]) -> Any:
        call = getattr(self.client, method)
        return call(f"{self.at}/{path}", json.dumps(body), content_type="application/json")

    def forward(self, **by: float) -> None:
        workspace = self.world.workspace
        move_time(workspace, clock.now(workspace) + timedelta(**by))

    def test_the_desk_counts_what_came_in_and_what_goes_out_next(self) -> None:
        self.world.arrive("ines@example.com", first_name="Ines")
        self.world.arrive("toni@example.com", look="comets")
        desk = self.get("desk")
        self.assertEqual(len(desk["days"]), 14)
        self.assertEqual([one["total"] for one in desk["sources"]], [2])
        self.assertEqual((desk["people"], desk["people_before"]), (2, 0))
        self.assertEqual([one["times"] for one in desk["snags"]], [1])
        self.forward(hours=1)
        self.assertEqual([one["count"] for one in self.get("desk")["next"]], [2])

    def test_the_counts_of_a_sequence_and_who_waits(self) -> None:
        for name in ("ines", "toni"):
            self.world.arrive(f"{name}@example.com", first_name=name)
        sheet = self.get(f"sequences/{self.world.sequence.pk}")
        counts = {one["step"]: (one["came"], one["waiting"]) for one in sheet["counts"]}
        self.assertEqual(counts, {"s1": (2, 0), "w1": (2, 2)})
        waiting = self.get(f"sequences/{self.world.sequence.pk}/runs?step=w1&ended=")
        self.assertEqual({one["name"] for one in waiting["runs"]}, {"Ines", "Toni"})
        self.forward(days=1, minutes=1)
        sheet = self.get(f"sequences/{self.world.sequence.pk}")
        self.assertEqual((sheet["under_way"], sheet["ended"]), (0, {"finished": 2}))

    def test_a_removed_step_passes_its_people_to_the_next_that_remains(self) -> None:
        self.world.arrive("ines@example.com", first_name="Ines")
        live = self.world.sequence.revisions.get(state="live")
        steps = SequenceDocument.model_validate(live.document).lanes[0].steps
        shorter = SequenceDocument(
            list=str(self.world.news.pk), lanes=(Lane(id="a", steps=(steps[0], steps[2])),)
        )
        sequences.save_sequence_draft(self.world.sequence, shorter, None, None)
        sequences.turn_on(self.world.sequence, None)
        self.forward(days=1, minutes=1)
        self.assertEqual([one.state for one in self.world.sends()], ["sent", "sent"])
        self.assertEqual(Run.objects.of(self.world.workspace).get().ended, "finished")

    def test_revisions_of_a_sequence_and_the_way_back(self) -> None:
        at = f"sequences/{self.world.sequence.pk}"
        sheet = self.get(at)
        document = sheet["document"]
        document["lanes"][0]["steps"][1]["duration"] = {"amount": 2, "unit": "days"}
        body = {"document": document, "based_on": sheet["edits"]}
        saved = self.send("put", f"{at}/draft", body).json()
        self.assertEqual(saved["changes"], ["step 2: wait 1 day → wait 2 days"])
        seen = {"note": "slower", "based_on": saved["edits"]}
        self.assertEqual(self.send("post", f"{at}/turn-on", seen).status_code, 200)
        second = self.get(f"{at}/revisions/2")
        self.assertEqual(second["changes"], saved["changes"])
        back = self.send("post", f"{at}/revisions/1/go-back", {"based_on": saved["edits"]}).json()
        self.assertEqual(back["changes"], ["step 2: wait 2 days → wait 1 day"])
        again = self.send("post", f"{at}/revisions/1/go-back", {"based_on": saved["edits"]})
        self.assertEqual(again.status_code, 409)
        self.assertEqual(self.client.get(f"{self.at}/{at}/revisions/9").status_code, 404)
        self.assertEqual(self.send("post", f"{at}/revisions/9/go-back", {}).status_code, 404)

    def test_a_sequence_without_its_list_cannot_be_turned_on(self) -> None:
        steps = (SendStep(id="s1", message=str(self.world.guide.pk)),)
        document = SequenceDocument(lanes=(Lane(id="a", steps=steps),))
        sequences.save_sequence_draft(self.world.sequence, document, None, None)
        with self.assertRaises(Refused) as caught:
            sequences.turn_on(self.world.sequence, None)
        self.assertEqual([one.code for one in caught.exception.problems], ["no_list"])

    def test_the_doors_of_a_sequence(self) -> None:
        (door,) = self.get(f"sequences/{self.world.sequence.pk}/doors")
        self.assertEqual((door["name"], door["live"], door["lane"]), ("Telescope guide", True, "A"))

    def test_a_name_is_asked_for_and_a_second_of_the_same_is_refused(self) -> None:
        for path, name in (
            ("sources", "telescope GUIDE"),
            ("sequences", "first telescope"),
            ("messages", "your guide"),
            ("lists", "open-night NEWS"),
        ):
            twice = self.send("post", path, {"name": name})
            self.assertEqual(twice.status_code, 422, path)
            self.assertEqual(twice.json()["errors"][0]["code"], "exists")
            nameless = self.send("post", path, {"name": "  "})
            self.assertEqual(nameless.json()["errors"][0]["code"], "no_name")

    def test_settings_name_what_is_wrong(self) -> None:
        settings = self.client.get(self.at).json()
        answer = self.client.put(
            self.at,
            json.dumps({**settings, "sender_address": "no address"}),
            content_type="application/json",
        )
        self.assertEqual(answer.json()["errors"][0]["place"], "sender_address")
        zone = self.client.put(
            self.at,
            json.dumps({**settings, "time_zone": "Mars/Olympus"}),
            content_type="application/json",
        )
        self.assertEqual(zone.json()["errors"][0]["code"], "no_zone")

    def test_a_message_says_whom_it_could_not_be_sent_to(self) -> None:
        self.world.arrive("nameless@example.com")
        message = self.get(f"messages/{self.world.fits.pk}")
        (finding,) = message["findings"]
        self.assertEqual((finding["code"], finding["stops"]), ("no_fallback", False))
        self.assertIn("nameless@example.com", finding["sentence"])

    def test_the_preview_is_what_the_person_would_get(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="ines")
        preview = self.get(f"messages/{self.world.fits.pk}/preview?person={person.pk}")
        self.assertIn("Hello Ines", preview["text"])
        unknown = self.get(f"messages/{self.world.fits.pk}/preview")
        self.assertEqual(unknown["holes"], ["first_name"])
        page = self.client.get(
            f"{self.at}/messages/{self.world.fits.pk}/preview.html?person={person.pk}"
        )
        self.assertIn("Hello Ines", page.content.decode())
        self.assertIn("script-src 'none'", page.headers["Content-Security-Policy"])

    def test_the_person_with_evidence_and_trail(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="ines", look="moon")
        shown = self.get(f"people/{person.pk}")
        self.assertEqual([one["value"] for one in shown["fields"]], ["Ines"])
        self.assertEqual(
            shown["memberships"][0]["evidence"][0]["wording"], "You also get the news."
        )
        trail = self.get(f"people/{person.pk}/trail")
        self.assertEqual(trail["facts"][-1]["kind"], "added")

    def test_time_moves_forward_only(self) -> None:
        earlier = (clock.now(self.world.workspace) - timedelta(days=1)).isoformat()
        answer = self.send("post", "clock", {"to": earlier})
        self.assertEqual(answer.json()["errors"][0]["code"], "backwards")

    def test_snags_are_closed_and_sent_again_through_the_api(self) -> None:
        self.world.arrive("nameless@example.com")
        self.forward(days=1, minutes=1)
        (snag,) = self.get("snags")
        self.assertEqual(self.send("post", f"sends/again/{snag['id']}", {}).json(), {"count": 1})
        self.assertEqual(self.get("snags"), [])
        self.assertEqual(Send.objects.of(self.world.workspace).filter(state="queued").count(), 1)
        (closed,) = self.get("snags?closed=true")
        self.assertIsNotNone(closed["closed_at"])


class Making(TestCase):
    def test_names_and_keys(self) -> None:
        world = make_world()
        field = make_field(world.workspace, "  Sky   darkness ", "text")
        self.assertEqual((field.label, field.key), ("Sky darkness", "sky_darkness"))
        for label in ("", "???", "answers", "Sky Darkness"):
            with self.assertRaises(Refused):
                make_field(world.workspace, label, "text")
        with self.assertRaises(Refused):
            make_field(world.workspace, "Second address", "email")
        with self.assertRaises(Refused):
            make_tag(world.workspace, "Gúide")
        with self.assertRaises(Refused):
            make_list(world.workspace, "x" * 81)

    def test_two_workspaces_of_one_name_have_addresses_of_their_own(self) -> None:
        user = make_world().user
        first, second = make_workspace("Dome", user), make_workspace("Dome", user)
        self.assertEqual((first.slug, second.slug), ("dome", "dome-2"))
