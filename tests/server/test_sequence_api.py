"""The sequence sheet over HTTP: rehearsal, tests on a person, who is where, figures, letting people in."""

import json
from typing import Any

from django.test import TestCase

from core.deciding import RecordEvent
from core.sequences import ActStep, Goal
from server.people.actions import make_field, make_tag
from server.sequences import actions as sequences
from server.sequences.models import Run
from tests.world import RealMail, make_user, make_world


class OverHttp(RealMail, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.client.force_login(self.world.user)
        self.at = f"/api/workspaces/{self.world.workspace.slug}"
        self.own = f"{self.at}/sequences/{self.world.sequence.pk}"
        self.token = self.client.get("/api/session").json()["csrf"]

    def post(self, path: str, status: int = 200, **body: Any) -> Any:
        answer = self.client.post(
            path, json.dumps(body), content_type="application/json", HTTP_X_CSRFTOKEN=self.token
        )
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def test_a_rehearsal_with_somebody_made_up(self) -> None:
        found = self.post(
            f"{self.own}/rehearsal",
            made_up={"time_zone": "Asia/Kathmandu"},
            start="2027-03-02T10:00:00Z",
            assumptions=[
                {"kind": "leaves_list", "after": {"amount": 3, "unit": "days"}},
            ],
        )
        self.assertEqual(found["time_zone"], "Asia/Kathmandu")
        sent = [one["at"] for one in found["entries"] if one["kind"] == "sends"]
        self.assertEqual(sent, ["2027-03-02T10:00:00Z", "2027-03-03T10:00:00Z"])
        self.assertFalse(Run.everywhere.exists())

    def test_a_rehearsal_of_the_draft_with_a_real_person(self) -> None:
        person = self.world.arrive("ines@example.com")
        found = self.post(f"{self.own}/rehearsal", person=str(person.pk))
        self.assertEqual(found["name"], "ines@example.com")
        self.assertEqual(Run.everywhere.count(), 1, "the one that the form began")
        # The draft is what is rehearsed, and a step may do something besides.
        draft = self.client.get(self.own).json()
        steps = draft["document"]["lanes"][0]["steps"]
        steps.insert(0, ActStep(id="e", action=RecordEvent(name="x")).model_dump(mode="json"))
        body = json.dumps({"document": draft["document"], "based_on": draft["edits"]})
        self.client.put(
            f"{self.own}/draft", body, content_type="application/json", HTTP_X_CSRFTOKEN=self.token
        )
        found = self.post(f"{self.own}/rehearsal", person=str(person.pk))
        self.assertEqual([one["kind"] for one in found["entries"]][1], "acts")

    def test_somebody_made_up_has_the_fields_and_tags_that_are_typed(self) -> None:
        visit = make_field(self.world.workspace, "Visit date", "date")
        wants = make_field(self.world.workspace, "Wants a call", "yes_no")
        tag = make_tag(self.world.workspace, "customer")
        draft = self.client.get(self.own).json()
        lane = draft["document"]["lanes"][0]
        when = {
            "kind": "all",
            "of": [
                {"kind": "field", "field": str(wants.pk), "op": "is", "value": "yes"},
                {"kind": "tag", "tag": str(tag.pk)},
            ],
        }
        lane["steps"] = [
            {"id": "w", "kind": "wait_date", "field": str(visit.pk), "days": -1, "at": "09:00:00"},
            {"id": "s", "kind": "split", "of": [{"id": "b", "when": when, "way": {"to": "end"}}]},
            *lane["steps"],
        ]
        body = json.dumps({"document": draft["document"], "based_on": draft["edits"]})
        saved = self.client.put(
            f"{self.own}/draft", body, content_type="application/json", HTTP_X_CSRFTOKEN=self.token
        )
        self.assertEqual(saved.status_code, 200, saved.content)

        def sent(**who: Any) -> list[str]:
            start = "2027-03-02T10:00:00Z"
            found = self.post(f"{self.own}/rehearsal", made_up=who, start=start)
            return [one["at"] for one in found["entries"] if one["kind"] == "sends"]

        values = {visit.key: "12 March 2027", wants.key: "yes"}
        self.assertEqual(sent(values=values)[0], "2027-03-11T09:00:00Z")
        self.assertEqual(sent(values=values, tags=[str(tag.pk)]), [])
        self.assertEqual(
            sent(values={**values, wants.key: "no"}, tags=[str(tag.pk)])[0][:10], "2027-03-11"
        )
        wrong = {"values": {visit.key: "31.31.2027", wants.key: "perhaps"}}
        found = self.post(f"{self.own}/rehearsal", 422, made_up=wrong)
        self.assertEqual([one["place"] for one in found["errors"]], [visit.key, wants.key])
        self.post(f"{self.own}/rehearsal", 422, made_up={"values": {"nothing": "x"}})

    def test_what_is_wrong_is_said(self) -> None:
        found = self.post(f"{self.own}/rehearsal", 422, made_up={"time_zone": "Mars/Dome"})
        self.assertEqual(found["errors"][0]["code"], "no_zone")
        other = make_world("Other", "other@example.com")
        stranger = other.arrive("x@example.com")
        self.post(f"{self.own}/rehearsal", 404, person=str(stranger.pk))
        self.post(f"{self.own}/people", 404, person=str(stranger.pk))
        run = Run.everywhere.get(subscriber=stranger)
        self.post(f"{self.at}/runs/{run.pk}/take-out", 404)
        self.post(f"{self.at}/sequences/{other.sequence.pk}/test", 404)

    def test_a_test_on_a_person_goes_to_the_member_alone_and_counts_nowhere(self) -> None:
        person = self.world.arrive("ines@example.com", first_name="ines")
        self.mailbox.empty()
        before = self.client.get(self.own).json()["counts"]
        found = self.post(f"{self.own}/test", person=str(person.pk))
        self.assertEqual((found["sent"], found["to"]), (2, "noor@larkmoor.example"))
        got = self.mailbox.list()
        self.assertEqual({one.recipients for one in got}, {("noor@larkmoor.example",)})
        subjects = sorted(str(one.message["Subject"]) for one in got)
        self.assertRegex(
            subjects[0], r"^\[Test 1, \w{3} \d+ \w{3} \d{4}, \d\d:\d\d\] Your guide Ines$"
        )
        self.assertIn("Hello Ines", got[0].part("plain"))
        self.assertEqual(self.client.get(self.own).json()["counts"], before)

    def test_who_is_where_and_figures(self) -> None:
        for number in range(3):
            self.world.arrive(f"p{number}@example.com")
        found = self.client.get(f"{self.own}/runs?step=w1&ended=").json()
        self.assertEqual(found["total"], 3)
        self.post(f"{self.at}/runs/{found['runs'][0]['run']}/take-out")
        self.assertEqual(self.client.get(f"{self.own}/runs?ended=member").json()["total"], 1)
        figures = self.client.get(f"{self.own}/figures").json()
        self.assertEqual((figures["entered"], figures["under_way"]), (3, 2))
        (wait,) = [one for one in figures["steps"] if one["step"] == "w1"]
        self.assertEqual((wait["came"], wait["waiting"], wait["left"]), (3, 2, {"member": 1}))
        (source,) = figures["by_source"]
        self.assertEqual((source["group"], source["entered"]), ("Telescope guide", 3))
        none = self.client.get(f"{self.own}/figures?since=2031-01-01T00:00:00Z").json()
        self.assertEqual((none["entered"], none["steps"]), (0, []))

    def test_a_reader_changes_nothing(self) -> None:
        person = self.world.arrive("ines@example.com")
        user = make_user("reader@example.com")
        self.world.workspace.members.create(user=user, role="reader")
        self.client.force_login(user)
        self.token = self.client.get("/api/session").json()["csrf"]
        self.post(f"{self.own}/people", 403, person=str(person.pk))
        self.post(f"{self.own}/test", 403, person=str(person.pk))
        self.post(f"{self.own}/resume-over", 403)

    def test_the_goal_rate_has_its_denominator(self) -> None:
        live = self.world.sequence.revisions.get(state="live")
        document = {**live.document, "goals": [Goal(id="g", event="x").model_dump(mode="json")]}
        from core.sequences import SequenceDocument

        sequences.save_sequence_draft(
            self.world.sequence, SequenceDocument.model_validate(document), None, None
        )
        sequences.turn_on(self.world.sequence, None)
        self.world.arrive("a@example.com")
        found = self.client.get(self.own).json()
        self.assertEqual((found["goal"]["entered"], found["goal"]["reached"]), (1, 0))
