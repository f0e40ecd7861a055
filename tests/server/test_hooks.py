"""Webhooks in, against the reference library of the Standard Webhooks specification."""

import json
import subprocess
from datetime import UTC, datetime, timedelta
from typing import Any

from django.conf import settings
from django.test import TestCase, override_settings
from standardwebhooks import Webhook

from core.deciding import RouteDocument
from server.routes.actions import turn_on
from server.routing.routing import route_submission
from server.sources.actions import make_source, pause, save_route_draft
from server.sources.models import Source
from server.sources.open_forms import forget
from server.submissions.models import Submission
from server.webhooks.models import Call
from server.workspaces.sealing import opened, sealed
from tests.world import BACKEND, make_world


class Hooks(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        workspace = self.world.workspace
        fields = {one.key: str(one.pk) for one in workspace.field_set.all()}
        self.source = make_source(workspace, "Till", self.world.member, kind=Source.Kind.WEBHOOK)
        document = RouteDocument.model_validate(
            {
                "read_as": [
                    {"id": "r1", "question": "buyer.email", "field": fields["email"]},
                    {"id": "r2", "question": "buyer.name", "field": fields["first_name"]},
                ],
                "consent": [
                    {"id": "c1", "list": str(self.world.news.pk), "wording": "At the till"}
                ],
            }
        )
        save_route_draft(self.source, document, 1, None)
        turn_on(self.source, None)
        forget(self.source)
        self.body = json.dumps({"buyer": {"email": "ines@example.com", "name": "Ines"}})

    def call(self, body: str, at: datetime | None = None, id: str = "msg_1", **more: str) -> Any:
        """A call, signed as the reference library signs."""
        at = at or datetime.now(UTC)
        secret = opened(self.source.secret)
        headers = {"webhook-id": id, "webhook-timestamp": str(int(at.timestamp()))}
        headers["webhook-signature"] = Webhook(secret).sign(id, at, body)
        return self.client.post(
            f"/hook/{self.source.key}",
            body,
            content_type="application/json",
            headers=headers | more,
        )

    def submissions(self) -> list[Submission]:
        return list(Submission.everywhere.filter(source=self.source))

    def test_a_signed_call_is_a_submission_with_values_by_path(self) -> None:
        answer = self.call(self.body)
        self.assertEqual(answer.status_code, 202)
        [one] = self.submissions()
        self.assertEqual(answer.json()["submission"], str(one.pk))
        self.assertIn(["buyer.email", "ines@example.com"], one.answers)
        route_submission(str(one.pk))
        one.refresh_from_db()
        assert one.subscriber is not None
        self.assertEqual(one.subscriber.values["first_name"], "Ines")

    def test_calls_to_a_draft_are_kept_apart_and_limited(self) -> None:
        draft = make_source(
            self.source.workspace, "Draft", None, kind=Source.Kind.WEBHOOK, key="a-draft"
        )
        Source.everywhere.filter(pk=draft.pk).update(secret="")
        codes = []
        with override_settings(POSTS_PER_MINUTE=2):
            for _ in range(5):
                forget(draft)
                answer = self.client.post("/hook/a-draft", self.body, "application/json")
                codes.append(answer.status_code)
        self.assertEqual(codes, [202, 202, 202, 429, 429])
        kept = Submission.everywhere.filter(source=draft)
        self.assertEqual({(one.state, one.is_test) for one in kept}, {("held", True)})

    def test_an_address_under_another_name_is_held(self) -> None:
        body = json.dumps({"buyer": {"Email": "ines@example.com"}})
        self.assertEqual(self.call(body).status_code, 202)
        [one] = self.submissions()
        self.assertEqual(one.state, "held")
        self.assertIn("“buyer.Email” holds one", one.held_because)

    def test_the_same_call_again_is_no_second_submission(self) -> None:
        self.call(self.body)
        again = self.call(self.body)
        self.assertEqual((again.status_code, len(self.submissions())), (200, 1))

    def test_what_is_not_signed_rightly_is_refused(self) -> None:
        old = datetime.now(UTC) - timedelta(minutes=6)
        self.assertEqual(self.call(self.body, at=old).status_code, 401)
        changed: Any = {"webhook-signature": "v1,AAAA"}
        self.assertEqual(self.call(self.body, **changed).status_code, 401)
        bare = self.client.post(f"/hook/{self.source.key}", self.body, "application/json")
        self.assertEqual(bare.status_code, 401)
        self.assertEqual(self.submissions(), [])

    def test_several_signatures_of_which_one_fits(self) -> None:
        # The specification: signatures divided by spaces, while secrets are being changed.
        at = datetime.now(UTC)
        good = Webhook(opened(self.source.secret)).sign("msg_1", at, self.body)
        answer = self.call(self.body, at, **{"webhook-signature": f"v1,AAAA {good}"})
        self.assertEqual(answer.status_code, 202)

    def test_what_is_no_object_is_said(self) -> None:
        for body in ("[1]", "nonsense"):
            answer = self.call(body)
            self.assertEqual(answer.status_code, 422, body)
        self.assertEqual(self.client.post("/hook/none", "{}", "application/json").status_code, 404)

    def test_an_address_that_is_its_own_secret(self) -> None:
        self.assertGreaterEqual(len(self.source.key), 32)
        self.source.secret = ""
        self.source.save()
        answer = self.client.post(f"/hook/{self.source.key}", self.body, "application/json")
        self.assertEqual(answer.status_code, 202)

    def test_nobody_who_left_is_brought_back(self) -> None:
        person = self.world.arrive("ines@example.com")
        person.memberships.update(state="unsubscribed")
        self.call(self.body)
        route_submission(str(self.submissions()[0].pk))
        self.assertEqual(person.memberships.get().state, "unsubscribed")

    def test_a_closed_webhook_and_a_large_body(self) -> None:
        self.assertEqual(self.call(json.dumps({"x": "y" * 70_000})).status_code, 413)
        pause(self.source)
        self.assertEqual(self.call(self.body).status_code, 409)

    def test_the_last_calls_as_they_came(self) -> None:
        for number in range(60):
            self.call(self.body, id=f"msg_{number}")
        self.assertEqual(Call.everywhere.filter(source=self.source).count(), 50)
        self.client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.world.workspace.slug}/sources/{self.source.pk}/hook"
        shown = self.client.get(at).json()
        self.assertEqual(len(shown["calls"]), 20)
        self.assertEqual(shown["calls"][0]["body"], self.body)
        self.assertEqual(shown["calls"][0]["headers"]["webhook-id"], "msg_59")

    def test_the_secret_is_not_stored_in_the_open(self) -> None:
        self.assertTrue(opened(self.source.secret).startswith("whsec_"))
        self.assertNotIn("whsec_", self.source.secret)
        with override_settings(SEALING_KEYS=["another"]):
            self.assertEqual(opened(self.source.secret), "")

    def test_a_key_is_replaced_and_nothing_is_lost(self) -> None:
        secret = opened(self.source.secret)
        with override_settings(SEALING_KEYS=["new", *settings.SEALING_KEYS]):
            self.assertEqual(opened(self.source.secret), secret)
            newer = sealed(secret)
        with override_settings(SEALING_KEYS=["new"]):
            self.assertEqual((opened(newer), opened(self.source.secret)), (secret, ""))

    def test_the_curl_line_signs_as_the_reference_does(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.world.workspace.slug}/sources/{self.source.pk}/hook"
        line = self.client.get(at).json()["curl"]
        # Everything but the call itself, run by a real shell.
        said = (
            line.partition("curl -i")[0] + 'printf "%s\\n%s\\n%s\\n%s" "$id" "$at" "$sig" "$body"'
        )
        done = subprocess.run(["sh", "-c", said], capture_output=True, text=True, check=True)
        call_id, moment, signature, body = done.stdout.split("\n", 3)
        headers = {
            "webhook-id": call_id,
            "webhook-timestamp": moment,
            "webhook-signature": f"v1,{signature}",
        }
        self.assertTrue(Webhook(opened(self.source.secret)).verify(body, headers))
