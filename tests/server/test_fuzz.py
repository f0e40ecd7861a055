"""Every operation of the API with what its description allows and what it does not, from a stored seed, as an
editor and with ids that exist: an answer that is meant, or a problem in words, and never a fault."""

import json
import random
from collections import Counter
from typing import Any
from uuid import UUID

from django.db import transaction
from django.test import Client, TestCase, override_settings
from structlog.testing import capture_logs

from server.config.api import api
from server.workspaces.models import Member, Role
from tests.server.test_scoping import BODIES, ids_of
from tests.world import BACKEND, make_user, make_world

SEED = 20_261_201
EACH = 7
"""Calls of each operation, besides one with a body that it takes."""
TEXTS = (
    "", " ", "x", "é", "①27", "a\tb", "x" * 400, "<b>" * 90, "{{ first_name }}", "{% for", "javascript:x",
    "ines@example.com", "https://a.example/x", "http://127.0.0.1/", "http://①27.0.0.1/", "٣", "-1", "NaN",
    "2027-02-30", "0001-01-01T00:00:00+18:28", "9999-12-31T23:59:59Z", "a" * 70 + "." + "b" * 70, "\u202e",
    "utf-16", "zip", "💥", "';--", "%", "\\", "null", "true",
)  # fmt: skip
NUMBERS = (0, 1, -1, 2, 7, 366, 10_000, 2**31, 2**63, -(2**63), 1.5, 1e308)
MOMENTS = (
    "2027-03-01T10:00:00Z", "2027-03-01T10:00:00", "0001-01-01T00:00:00+18:28", "5036-01-01T00:00:00+18:28",
    "9999-12-31T23:59:59-12:00", "1970-01-01T00:00:00Z", "soon",
)  # fmt: skip


class Generator:
    """Values of a schema, most of them such as it allows."""

    def __init__(self, seed: int, ids: dict[str, Any]) -> None:
        self.random = random.Random(seed)
        self.ids = [str(one) for one in ids.values() if isinstance(one, UUID)]
        self.schemas = api.get_openapi_schema()["components"]["schemas"]
        self.counts: Counter[str] = Counter()

    def value(self, schema: dict[str, Any], depth: int = 0) -> Any:
        draw = self.random
        if "$ref" in schema:
            return self.value(self.schemas[schema["$ref"].rpartition("/")[2]], depth)
        for key in ("anyOf", "oneOf", "allOf"):
            if key in schema:
                return self.value(draw.choice(schema[key]), depth)
        if "const" in schema:
            return schema["const"]
        if draw.random() < 0.04:
            self.counts["of another type"] += 1
            return draw.choice([None, True, -1, "x", [], {}, [[]], {"x": {}}])
        if "enum" in schema:
            return draw.choice(schema["enum"])
        kind = schema.get("type")
        self.counts[str(kind)] += 1
        match kind:
            case "string" if schema.get("format") == "uuid":
                return draw.choice([*self.ids, "x", str(UUID(int=draw.getrandbits(128)))])
            case "string" if schema.get("format") == "date-time":
                return draw.choice(MOMENTS)
            case "string":
                return draw.choice([*TEXTS, *self.ids[:6]])
            case "integer" | "number":
                return draw.choice(NUMBERS)
            case "boolean":
                return draw.random() < 0.5
            case "array":
                some = 0 if depth > 5 else draw.choice([0, 1, 1, 2, 3])
                return [self.value(schema.get("items", {}), depth + 1) for _ in range(some)]
            case "object" | None:
                needed = set(schema.get("required", ()))
                found = {
                    name: self.value(one, depth + 1)
                    for name, one in schema.get("properties", {}).items()
                    if name in needed or (depth < 6 and draw.random() < 0.6)
                }
                more = schema.get("additionalProperties")
                if isinstance(more, dict) and depth < 5:
                    found[draw.choice(["email", "first_name", "x"])] = self.value(more, depth + 1)
                return found
            case _:
                return None


@override_settings(FETCH_HOSTS=[], CHECKS_HISTORY=False)
class Fuzz(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.ids = ids_of(self.world)
        editor = make_user("editor@larkmoor.example")
        Member.objects.create(workspace=self.world.workspace, user=editor, role=Role.EDITOR)
        self.client = Client(raise_request_exception=False)
        self.client.force_login(editor, BACKEND)

    def address(self, path: str) -> str:
        address = path.replace("{workspace}", self.world.workspace.slug)
        for name, value in self.ids.items():
            address = address.replace("{" + name + "}", str(value))
        return address

    def call(self, method: str, path: str, query: dict[str, Any], body: Any) -> Any:
        data = json.dumps(body) if body is not None else None
        return self.client.generic(
            method.upper(),
            self.address(path),
            data or "",
            content_type="application/json",
            query_params=query or None,
        )

    def wrong_with(self, answer: Any) -> str:
        """What is wrong with an answer; empty: nothing."""
        content = b"".join(answer.streaming_content) if answer.streaming else answer.content
        if answer.status_code >= 500 and answer.status_code != 503:
            return f"{answer.status_code} {getattr(answer, 'exc_info', None) or content[:300]!r}"
        if answer.status_code < 400:
            return ""
        if answer["Content-Type"] != "application/problem+json":
            return f"{answer.status_code} as {answer['Content-Type']}"
        problem = json.loads(content)
        well = problem["status"] == answer.status_code and problem["title"]
        return "" if well else f"no problem in words: {content[:300]!r}"

    def test_whatever_is_sent_is_answered(self) -> None:
        made = Generator(SEED, self.ids)
        statuses: Counter[int] = Counter()
        met: dict[str, set[int]] = {}
        faults: dict[str, str] = {}
        for path, methods in api.get_openapi_schema()["paths"].items():
            if "{workspace}" not in path:
                continue
            for method, operation in methods.items():
                name = f"{method} {path}"
                content = operation.get("requestBody", {}).get("content", {})
                schema = content.get("application/json", {}).get("schema")
                asks = [one for one in operation.get("parameters", ()) if one.get("in") == "query"]
                for number in range(EACH + 1):
                    # What a call changes is taken back, so that the next operation finds all there is.
                    with transaction.atomic(), capture_logs():
                        body = made.value(schema) if schema else None
                        if number == 0 and schema:
                            body = BODIES.get(schema.get("$ref", "").rpartition("/")[2], body)
                        query = {
                            one["name"]: made.value(one["schema"])
                            for one in asks
                            if made.random.random() < 0.5
                        }
                        query = {
                            key: one
                            for key, one in query.items()
                            if one is not None and not isinstance(one, list | dict)
                        }
                        answer = self.call(method, path, query, body)
                        wrong = self.wrong_with(answer)
                        if wrong:
                            sent = f"{query} {json.dumps(body)[:1500]}"
                            faults.setdefault(name, f"{name}: {wrong}\n  sent {sent}")
                        transaction.set_rollback(True)
                    statuses[answer.status_code] += 1
                    met.setdefault(name, set()).add(answer.status_code)
        self.assertEqual(list(faults.values()), [], "\n".join(faults.values()))
        only_missing = sorted(name for name, found in met.items() if found <= {404, 403})
        self.assertGreater(len(met), 200)
        self.assertLessEqual(len(only_missing) / len(met), 0.05, only_missing)
        for status in (200, 422):
            self.assertGreater(statuses[status], 300, statuses)
        for kind in ("string", "integer", "boolean", "array", "object", "of another type"):
            self.assertGreater(made.counts[kind], 30, made.counts)
