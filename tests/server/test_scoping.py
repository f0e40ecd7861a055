"""Workspaces are apart: every query is scoped in one place, every path answers 404 abroad."""

import json
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

from django.test import TestCase

from core.audiences import AudienceDocument
from core.broadcasts import BroadcastDocument
from core.services import Handover
from server.audiences.actions import make_audience
from server.broadcasts.actions import make_broadcast
from server.config.api import api
from server.imports.imports import begin_import, keep_part
from server.mail.files import give_file
from server.mail.models import LibraryPicture
from server.mail.signing import add_domain
from server.people.models import Field, FrozenGroup, Merge, Subscriber, Suppression, Tag, Task
from server.replays.models import Replay
from server.services.connecting import connect
from server.services.described import shipped
from server.services.models import Handoff, Service
from server.services.outbox import Handoffs
from server.snags.actions import report
from server.snags.models import Snag
from server.sources.actions import make_source
from server.sources.models import Source
from server.submissions.models import FileImport
from server.workspaces.documents import live_of
from server.workspaces.models import Member, Role
from server.workspaces.scoping import Unscoped
from tests.world import BACKEND, WHY, World, make_user, make_world

NOW = datetime(2026, 11, 24, tzinfo=UTC)
# A body that each path takes, so that it is the id that is refused.
BODIES: dict[str, dict[str, Any]] = {
    "RouteDraftIn": {"document": {}, "based_on": 0},
    "SequenceDraftIn": {"document": {}, "based_on": 0},
    "TurnOnIn": {},
    "SequenceIn": {"name": "x"},
    "SequenceTurnOn": {},
    "SequenceRehearseIn": {},
    "ResumeIn": {},
    "OneIn": {"person": "00000000-0000-0000-0000-000000000000"},
    "AllIn": {"condition": {}, "counted": 0},
    "BasedOn": {},
    "ByHand": {},
    "RouteDocument": {},
    "SourceIn": {"name": "x"},
    "TestIn": {"answers": []},
    "BeginIn": {"name": "x", "size": 5},
    "TableShape": {},
    "RowsIn": {"document": {}},
    "RunIn": {},
    "SignedIn": {"signed": True},
    "WatchSave": {"address": ""},
    "ReplayIn": {},
    "RehearseIn": {"document": {}},
    "MergePeopleIn": {"other": "00000000-0000-0000-0000-000000000000"},
    "AddressIn": {"address": "x@example.org"},
    "KeptFileIn": {"attached": True},
    "ListChangeIn": {"name": "x"},
    "LeadIn": {"new_form": "x"},
    "TurnOnPathIn": {},
    "AudienceIn": {"name": "x"},
    "AudienceDraftIn": {"document": {}, "based_on": 0},
    "AudienceDocument": {},
    "BroadcastDraftIn": {"document": {}, "based_on": 0},
    "BroadcastDocument": {},
    "BroadcastDocumentIn": {"document": {}},
    "BroadcastPersonIn": {"document": {}},
    "BroadcastTestIn": {"document": {}, "to": ["x@example.org"]},
    "LeftOutIn": {"document": {}, "why": "less"},
    "AskIn": {"approver": "00000000-0000-0000-0000-000000000000"},
    "ChooseIn": {"version": "a"},
    "WhoIn": {"condition": {}},
    "SayIn": {"condition": {}},
    "TypedIn": {"text": "score is 3", "cursor": 3},
    "FreezeIn": {"name": "x", "who": {}},
    "SeriesIn": {"emails": [{"name": "x"}]},
    "ManyIn": {"submissions": []},
    "MarkIn": {"submissions": [], "is_test": True},
    "RemoveIn": {"submissions": []},
    "FieldChangeIn": {"label": "x", "choices": []},
    "Formats": {},
    "RetypeIn": {"type": "text"},
    "ConfirmingIn": {"confirms": True},
    "SuppressIn": {"lines": []},
    "FitsIn": {"condition": {}},
    "ConditionIn": {"condition": {}},
    "PeopleWhoIn": {"condition": {}},
    "MergeIn": {"into": "00000000-0000-0000-0000-000000000000"},
    "SampleIn": {"document": {}, "answers": []},
    "MessageDraftIn": {"document": {}, "based_on": 0},
    "TryIn": {},
    "PictureIn": {"name": "x", "alt": ""},
    "DomainIn": {"domain": "x.example"},
    "SigningIn": {"signs": False},
    "SenderIn": {},
    "MailboxIn": {"host": "x.invalid", "user": "x", "password": "x"},
    "MailSettingsIn": {
        "style": {},
        "language": "en",
        "reply_to": "",
        "counts_opens": False,
        "counts_clicks": False,
    },
    "ConnectIn": {"name": "x", "kind": "webhook", "base": "https://x.example"},
    "ServiceIn": {"name": "x"},
    "SecretsIn": {"values": {}},
    "ServiceDescription": {},
    "FieldMadeIn": {"label": "x"},
    "ThingMadeIn": {"kind": "list", "label": "x"},
    "AgreedIn": {"code": "x", "state": "x"},
    "HandoverSampleIn": {"handover": {}},
    "AgainIn": {},
    "OpenApiIn": {"document": {"openapi": "3.1.0", "paths": {"/x": {}}}},
    "NameIn": {"name": "x"},
    "ListIn": {"name": "x"},
    "FieldIn": {"label": "x", "type": "text"},
    "MoveIn": {"to": "2030-01-01T00:00:00Z"},
    "NoticeSettings": {"kinds": []},
    "SequenceDocument": {},
    "MessageDocument": {},
    "SettingsSave": {
        "name": "x",
        "time_zone": "UTC",
        "sender_name": "",
        "sender_address": "",
        "postal_address": "",
        "keeps_ip": False,
    },
}


def _file(world: World) -> FileImport:
    source = make_source(world.workspace, "A file", world.member, kind=Source.Kind.FILE)
    return keep_part(begin_import(source, "people.csv", 5, world.member), 0, b"a,b\r\n")


def _service(world: World) -> Service:
    return connect(world.workspace, "Hook", "", shipped()["webhook"])


def _handoff(world: World, service: Service, person: Subscriber) -> Handoff:
    rows = Handoffs()
    handover = Handover(service=str(service.pk), operation="event")
    made = rows.add_row(person, service.pk, handover, "x", NOW, WHY, operation="Send")
    rows.write()
    return made


def ids_of(world: World) -> dict[str, Any]:
    """Something of a workspace for each name that a path has."""
    person = world.arrive("ines@example.com", first_name="Ines")
    service = _service(world)
    snag = report(world.workspace, Snag.About.SEND, "x", "x")
    return {
        "source": world.source.pk,
        "sequence": world.sequence.pk,
        "message": world.guide.pk,
        "person": person.pk,
        "submission": person.submissions.get().pk,
        "snag": snag.pk,
        "service": service.pk,
        "handoff": _handoff(world, service, person).pk,
        "field": Field.objects.of(world.workspace).get(key="first_name").pk,
        "file": _file(world).pk,
        "task": Task.everywhere.create(
            workspace=world.workspace,
            subscriber=person,
            title="Call",
            made_at=person.added_at,
            due_at=person.added_at,
            because=WHY,
        ).pk,
        "list": world.news.pk,
        "tag": Tag.objects.of(world.workspace).first().pk,
        "entry": Suppression.everywhere.create(
            workspace=world.workspace, kind="address", key="x@y.example", added_at=NOW
        ).pk,
        "replay": Replay.everywhere.create(
            workspace=world.workspace,
            source=world.source,
            revision=live_of(world.source.revisions.all()),
            wanted={},
            allowed=[],
            created_at=NOW,
        ).pk,
        "merge": Merge.everywhere.create(
            workspace=world.workspace, kept=person, at=NOW, until=NOW, because={}
        ).pk,
        "picture": LibraryPicture.everywhere.create(
            workspace=world.workspace,
            key="k",
            content=b"",
            sharp=b"",
            width=1,
            height=1,
            size=0,
            added_at=NOW,
        ).pk,
        "audience": make_audience(world.workspace, "Theirs", AudienceDocument(), world.member).pk,
        "email": world.sends()[0].pk,
        "group": FrozenGroup.everywhere.create(
            workspace=world.workspace, name="Theirs", made_at=NOW
        ).pk,
        "broadcast": make_broadcast(
            world.workspace, "Theirs", BroadcastDocument(), world.member
        ).pk,
        "domain": add_domain(world.workspace, "theirs.example").pk,
        "form": "html",
        "kept": give_file(world.guide, "a.pdf", "application/pdf", b"x", True, 14).pk,
        "kind": "source",
        "thing": world.source.pk,
        "run": person.runs.get().pk,
        "step": "s1",
        "number": 1,
    }


class Walk(TestCase):
    def setUp(self) -> None:
        self.mine = make_world("Mine", "mine@larkmoor.example")
        self.theirs = make_world("Theirs", "theirs@larkmoor.example")
        self.ids = ids_of(self.theirs)
        self.client.force_login(self.mine.user, BACKEND)

    def operations(self) -> list[tuple[str, str, dict[str, Any]]]:
        """Every path below a workspace, its method, and a body that it takes."""
        found = []
        for path, methods in api.get_openapi_schema()["paths"].items():
            if "{workspace}" not in path:
                continue
            for method, operation in methods.items():
                content = operation.get("requestBody", {}).get("content", {})
                schema = content.get("application/json", {}).get("schema", {})
                name = schema.get("$ref", "").rpartition("/")[2]
                found.append((path, method, BODIES[name] if name else {}))
        return found

    def call(self, path: str, method: str, body: dict[str, Any], slug: str) -> int:
        address = path.replace("{workspace}", slug)
        for name, value in self.ids.items():
            address = address.replace("{" + name + "}", str(value))
        self.assertNotIn("{", address)
        answer = getattr(self.client, method)(
            address,
            data=json.dumps(body) if method != "get" else None,
            content_type="application/json",
        )
        return int(answer.status_code)

    def test_another_workspace_is_not_there(self) -> None:
        operations = self.operations()
        self.assertGreater(len(operations), 35)
        for path, method, body in operations:
            slug = self.theirs.workspace.slug
            self.assertEqual(self.call(path, method, body, slug), 404, f"{method} {path}")

    def test_its_ids_are_not_there_in_mine(self) -> None:
        walked = 0
        for path, method, body in self.operations():
            if path.count("{") < 2:
                continue
            walked += 1
            slug = self.mine.workspace.slug
            self.assertEqual(self.call(path, method, body, slug), 404, f"{method} {path}")
        self.assertGreater(walked, 20)

    def test_its_ids_are_not_taken_as_filters(self) -> None:
        at = f"/api/workspaces/{self.mine.workspace.slug}"
        listed = self.client.get(f"{at}/submissions?source={self.ids['source']}").json()
        self.assertEqual(listed["submissions"], [])
        preview = self.client.get(
            f"{at}/messages/{self.mine.guide.pk}/preview?person={self.ids['person']}"
        )
        self.assertEqual(preview.status_code, 404)

    def test_their_submissions_in_a_body_are_nobodys(self) -> None:
        at = f"/api/workspaces/{self.mine.workspace.slug}/submissions"
        wanted = {"submissions": [str(self.ids["submission"])]}
        for action, more in (
            ("hold", {}),
            ("release", {}),
            ("test", {"is_test": True}),
            ("remove", {"with_people": True}),
        ):
            body = json.dumps({**wanted, **more})
            answer = self.client.post(f"{at}/{action}", body, content_type="application/json")
            self.assertEqual(set(answer.json().values()), {0}, action)
        self.assertEqual(Subscriber.objects.of(self.theirs.workspace).count(), 1)
        exported = self.client.get(f"{at}/export?source={self.ids['source']}")
        self.assertNotIn(b"ines@", b"".join(exported.streaming_content))  # type: ignore[attr-defined]

    def test_their_things_in_my_document_are_gone_things(self) -> None:
        at = f"/api/workspaces/{self.mine.workspace.slug}/sources/{self.mine.source.pk}/sample"
        document = {
            "consent": [{"id": "c", "list": str(self.theirs.news.pk), "wording": "x"}],
            "then": [
                {
                    "id": "t",
                    "action": {"kind": "start_sequence", "sequence": str(self.ids["sequence"])},
                }
            ],
        }
        answer = self.client.post(
            at, json.dumps({"document": document, "answers": []}), content_type="application/json"
        ).json()
        codes = {one["code"] for one in answer["findings"]}
        self.assertLessEqual({"list_gone", "sequence_gone"}, codes)

    def test_nobody_gets_in_without_signing_in(self) -> None:
        self.client.logout()
        for path, method, body in self.operations():
            slug = self.mine.workspace.slug
            self.assertEqual(self.call(path, method, body, slug), 401, f"{method} {path}")

    def test_a_reader_reads_and_changes_nothing(self) -> None:
        reader = make_user("reader@larkmoor.example")
        Member.objects.create(workspace=self.mine.workspace, user=reader, role=Role.READER)
        self.client.force_login(reader, BACKEND)
        slug = self.mine.workspace.slug
        self.ids["source"] = self.mine.source.pk
        self.ids["sequence"] = self.mine.sequence.pk
        self.ids["audience"] = make_audience(
            self.mine.workspace, "Mine", AudienceDocument(), self.mine.member
        ).pk
        self.ids["broadcast"] = make_broadcast(
            self.mine.workspace, "Mine", BroadcastDocument(), self.mine.member
        ).pk
        self.ids["message"] = self.mine.guide.pk
        self.ids["file"] = _file(self.mine).pk
        self.ids["service"] = _service(self.mine).pk
        self.ids["field"] = Field.objects.of(self.mine.workspace).get(key="first_name").pk
        for path, method, body in self.operations():
            if method == "get":
                continue
            asks = path.endswith(
                (
                    "/sample",
                    "/preview",
                    "/rows",
                    "/fits",
                    "/size",
                    "/conditions/say",
                    "/conditions/typed",
                    "/examples",
                    "/count",
                    "/conditions/people",
                    "/rehearse",
                    "/rehearsal",
                    "/ahead",
                    "/told-of",
                    "/differences",
                    "/plan",
                    "/person",
                    "/left-out",
                    "/merge-preview",
                    "/service-descriptions/check",
                    "/service-descriptions/from-openapi",
                )
            )
            asks = asks and not path.endswith("/files/{file}/count")
            # The other person of a merge is not there; the role alone would let it through.
            expected = 404 if path.endswith("/merge-preview") else 200 if asks else 403
            self.assertEqual(self.call(path, method, body, slug), expected, f"{method} {path}")
        self.assertEqual(self.client.get(f"/api/workspaces/{slug}/desk").status_code, 200)


class OnePlace(TestCase):
    def test_a_query_over_every_workspace_raises(self) -> None:
        for query in (Source.objects.all, Subscriber.objects.count, Snag.objects.first):
            with self.assertRaises(Unscoped):
                query()

    def test_ids_that_are_nobodys_are_not_there(self) -> None:
        mine = make_world()
        self.client.force_login(mine.user, BACKEND)
        at = f"/api/workspaces/{mine.workspace.slug}/people/{uuid4()}"
        answer = self.client.get(at)
        self.assertEqual(answer.status_code, 404)
        self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
