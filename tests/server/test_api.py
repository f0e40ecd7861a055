"""The API: signing in, errors as RFC 9457, paging, health."""

import json
from unittest import mock

from django.test import Client, SimpleTestCase, TestCase, TransactionTestCase

from server.config.api import api
from server.people.models import Subscriber
from tests.world import BACKEND, PASSWORD, make_world


class SigningIn(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client = Client(enforce_csrf_checks=True)

    def sign_in(self, password: str) -> int:
        token = self.client.get("/api/session").json()["csrf"]
        body = json.dumps({"address": "Noor@larkmoor.example", "password": password})
        answer = self.client.post(
            "/api/session", body, content_type="application/json", HTTP_X_CSRFTOKEN=token
        )
        return int(answer.status_code)

    def test_in_and_out(self) -> None:
        self.assertIsNone(self.client.get("/api/session").json()["address"])
        self.assertEqual(self.sign_in(PASSWORD), 200)
        session = self.client.get("/api/session").json()
        self.assertEqual(session["workspaces"][0]["role"], "owner")
        out = self.client.delete("/api/session", HTTP_X_CSRFTOKEN=session["csrf"])
        self.assertIsNone(out.json()["address"])

    def test_a_wrong_password_is_throttled_after_ten_tries(self) -> None:
        self.assertEqual({self.sign_in("wrong") for _ in range(9)}, {401})
        self.sign_in("wrong")
        self.assertEqual(self.sign_in(PASSWORD), 429)

    def test_a_change_needs_the_token(self) -> None:
        self.sign_in(PASSWORD)
        at = f"/api/workspaces/{self.world.workspace.slug}/tags"
        without = self.client.post(at, '{"name": "x"}', content_type="application/json")
        self.assertEqual(without.status_code, 403)
        token = self.client.get("/api/session").json()["csrf"]
        made = self.client.post(
            at, '{"name": "x"}', content_type="application/json", HTTP_X_CSRFTOKEN=token
        )
        self.assertEqual(made.status_code, 200)


class Errors(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.world.workspace.slug}"

    def test_problem_details_say_what_where_and_what_to_do(self) -> None:
        answer = self.client.post(
            f"{self.at}/tags", '{"name": " GUIDE "}', content_type="application/json"
        )
        self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
        body = answer.json()
        self.assertEqual((answer.status_code, body["status"]), (422, 422))
        self.assertEqual(body["errors"][0]["place"], "name")
        self.assertTrue(body["errors"][0]["fix"])

    def test_a_body_that_cannot_be_read_names_its_place(self) -> None:
        source = f"{self.at}/sources/{self.world.source.pk}/draft"
        document = {"form": {"questions": [{"id": "q", "name": "x", "type": "nonsense"}]}}
        body = json.dumps({"document": document, "based_on": 0})
        answer = self.client.put(source, body, content_type="application/json")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("questions.0.type", answer.json()["errors"][0]["place"])

    def test_turning_on_what_pre_flight_stops(self) -> None:
        source = f"{self.at}/sources/{self.world.source.pk}"
        seen = self.client.get(source).json()["edits"]
        body = json.dumps({"document": {}, "based_on": seen})
        self.client.put(f"{source}/draft", body, content_type="application/json")
        answer = self.client.post(f"{source}/turn-on", "{}", content_type="application/json")
        self.assertEqual(answer.status_code, 422)
        codes = [one["code"] for one in answer.json()["errors"]]
        self.assertEqual(codes, ["no_questions", "email_not_mapped"])

    def test_a_conflict(self) -> None:
        at = f"{self.at}/messages/{self.world.guide.pk}/draft"
        body = {"document": {}, "based_on": 0}
        answer = self.client.put(at, json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 409)


class Pages(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.client.force_login(self.world.user, BACKEND)
        self.at = f"/api/workspaces/{self.world.workspace.slug}"
        now = self.world.workspace.created_at
        Subscriber.everywhere.bulk_create(
            Subscriber(
                workspace=self.world.workspace,
                address=f"p{number}@example.com",
                address_key=f"p{number}@example.com",
                searched=f"p{number}@example.com",
                added_at=now,
            )
            for number in range(120)
        )

    def test_pages_by_key_show_everybody_once(self) -> None:
        seen: list[str] = []
        after = ""
        while True:
            page = self.client.get(
                f"{self.at}/people?after={after}" if after else f"{self.at}/people"
            )
            seen += [one["address"] for one in page.json()["people"]]
            after = page.json()["next"]
            if not after:
                break
        self.assertEqual(len(seen), 120)
        self.assertEqual(len(set(seen)), 120)

    def test_search(self) -> None:
        self.world.arrive("ines@example.com", first_name="Inés")
        found = self.client.get(f"{self.at}/people?search=INES").json()
        self.assertEqual([one["name"] for one in found["people"]], ["Inés"])
        self.assertEqual(self.client.get(f"{self.at}/people?search=p11").json()["total"], 11)

    def test_a_page_that_is_not_known(self) -> None:
        self.assertEqual(self.client.get(f"{self.at}/people?after=nonsense").status_code, 422)

    def test_how_many_queries_a_page_takes_does_not_grow_with_it(self) -> None:
        with self.assertNumQueries(6):
            self.client.get(f"{self.at}/people")


class Health(TransactionTestCase):
    def test_it_says_what_does_not_answer(self) -> None:
        answer = self.client.get("/health")
        self.assertEqual(answer.status_code, 503)
        self.assertEqual(answer.json()["database"], "ok")
        self.assertEqual(answer.json()["worker"], "no worker runs")
        with (
            mock.patch(
                "server.config.health._database_and_worker",
                return_value={"database": "ok", "worker": "ok"},
            ),
            mock.patch("server.config.health._mail", return_value="ok"),
        ):
            self.assertEqual(self.client.get("/health").status_code, 200)

    def test_the_clock_is_for_the_outside_world_alone(self) -> None:
        self.assertEqual(self.client.get("/outside/clock").status_code, 403)
        self.assertEqual(
            self.client.get("/outside/clock", headers={"Authorization": "Bearer x"}).status_code,
            403,
        )


class Description(SimpleTestCase):
    def test_every_operation_says_which_errors_it_answers(self) -> None:
        schema = api.get_openapi_schema()
        operations = 0
        for path, methods in schema["paths"].items():
            for method, operation in methods.items():
                operations += 1
                for status in (400, 401, 403, 404, 405, 409, 413, 422, 429):
                    said = operation["responses"].get(status) or operation["responses"].get(
                        str(status)
                    )
                    self.assertTrue(said, f"{method} {path}: {status}")
        self.assertGreater(operations, 100)
