"""What open screens are told: triggers against the registry, and events as a browser reads them from the wire."""

import http.client
import json
import os
import secrets
import time
from pathlib import Path
from typing import Any
from unittest import mock

import psycopg
from django.apps import apps
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase
from django.utils import timezone

from server.mail.models import MessageRevision
from server.snags.models import Snag
from server.stream.hub import MOST_OF_ONE, Hub
from server.stream.topics import KINDS, ONLY, TABLES
from server.submissions.models import Submission
from server.workspaces.actions import make_workspace
from server.workspaces.models import HistoryEntry, Member, Role, User, Workspace, WorkspaceRow
from tests.served import Running, Wire
from tests.world import make_world

PATIENCE = 20
QUIET = {
    # Told by what changes together with them.
    "workspaces_cause",
    "people_fact",
    "people_tagging",
    "people_evidence",
    "people_evidencereleased",
    "people_formeraddress",
    "people_mention",
    "people_merge",
    "people_erased",
    "people_ownrequest",
    "people_frozengroup",
    "people_frozenmember",
    "imports_filepart",
    "imports_refusedrow",
    "replays_replayline",
    "sequences_visit",
    "sequences_signal",
    "sequences_forecastperson",
    "services_attempt",
    "services_plan",
    "doors_doorwatch",
    "doors_doorheld",
    "doors_doorseen",
    "mail_pace",
    "mail_broadcastpause",
    "notices_notice",
    # Made and changed by members, whose act is told.
    "people_field",
    "people_tag",
    "people_mailinglist",
    "mail_message",
    "mail_librarypicture",
    "mail_storedfile",
    "mail_messagefile",
    "mail_listmail",
    "mail_replymailbox",
    "sequences_sequence",
    "sources_source",
    "forms_picture",
    "audiences_audience",
}


class Registry(TestCase):
    def test_each_table_is_told_of_or_quiet_for_a_reason(self) -> None:
        tables = {
            model._meta.db_table
            for model in apps.get_models()
            if issubclass(model, WorkspaceRow) or model in (Workspace, Member)
        }
        self.assertEqual(set(TABLES) & QUIET, set())
        self.assertEqual(tables, set(TABLES) | QUIET)

    def test_the_database_has_the_triggers_of_the_registry(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT event_object_table, event_manipulation, action_statement "
                "FROM information_schema.triggers WHERE trigger_name LIKE 'announces_%'"
            )
            found = {(table, kind): said.split("'")[1] for table, kind, said in cursor.fetchall()}
        self.assertEqual(
            found,
            {
                (table, kind): topic
                for table, topic in TABLES.items()
                for kind in KINDS
                if ONLY.get(table, kind) == kind
            },
        )


class Allowed(TestCase):
    """Who may follow. The client of the tests is no server with connections: it is told that there is no stream."""

    def test_members_alone(self) -> None:
        world = make_world()
        path = f"/api/workspaces/{world.workspace.slug}/stream"
        client = Client()
        self.assertEqual(client.get(path).status_code, 401)
        client.force_login(world.user)
        self.assertEqual(client.get(path).status_code, 204)
        Member.objects.filter(user=world.user).update(role=Role.READER)
        self.assertEqual(client.get(path).status_code, 204)
        self.assertEqual(client.get("/api/workspaces/another/stream").status_code, 404)


class Told(Running):
    """On the real server."""

    def follow(self, port: int, user: User | None = None) -> "Followed":
        return Followed(port, self.cookie(user or self.world.user), self.world.workspace.slug)

    def cookie(self, user: User) -> str:
        client = Client()
        client.force_login(user)
        return str(client.cookies["sessionid"].value)

    def test_changes_of_the_workspace_and_of_no_other(self) -> None:
        other = make_workspace("Another", self.world.user)
        with self.served(YALLA_WEB_PROCESSES="1") as port:
            followed = self.follow(port)
            self.assertEqual(followed.status, 200)
            self.assertEqual(followed.type, "text/event-stream")
            self.snag(other)
            self.snag(self.world.workspace)
            self.assertEqual(followed.next(), {"snags"})
            entry = HistoryEntry.everywhere.create(
                workspace=self.world.workspace, at=timezone.now(), sentence="did"
            )
            self.assertEqual(followed.next(), {"acts"})
            # A draft that is saved once more.
            entry.save()
            MessageRevision.objects.of(self.world.workspace).update(edits=7)
            self.assertEqual(followed.next(), {"drafts"})
            self.world.workspace.save()
            self.assertEqual(followed.next(), {"workspace"})
            followed.close()

    def test_what_comes_by_the_form_is_told_though_nobody_asks(self) -> None:
        with self.served(YALLA_WEB_PROCESSES="1") as port:
            followed = self.follow(port)
            status, _ = self.ask(
                port, "POST", self.form(), email="ines@example.com", _r=self.rendering()
            )
            self.assertIn(status, (200, 303, 422))
            Submission.objects.of(self.world.workspace).update(state=Submission.State.RECEIVED)
            self.assertIn("submissions", followed.next())
            followed.close()

    def test_many_cost_no_thread_and_leave_nothing(self) -> None:
        """More than all threads of the server, and it answers; when they have gone, their files are closed."""
        with self.served(YALLA_WEB_PROCESSES="1") as port:
            self.follow(port).close()
            before = self.files()
            many = [self.follow(port) for _ in range(40)]
            self.assertEqual({one.status for one in many}, {200})
            self.assertGreaterEqual(self.files(), before + 30)
            peer = http.client.HTTPConnection("127.0.0.1", port, timeout=PATIENCE)
            peer.request(
                "GET",
                "/api/session",
                headers={"Cookie": f"sessionid={self.cookie(self.world.user)}"},
            )
            self.assertEqual(peer.getresponse().status, 200)
            peer.close()
            for one in many[1:]:
                one.close()
            deadline = time.monotonic() + PATIENCE
            while self.files() > before + 2:
                self.assertLess(time.monotonic(), deadline, (self.files(), before))
                time.sleep(0.2)
            self.snag(self.world.workspace)
            many[0].until({"snags"})
            many[0].close()

    def test_a_member_can_open_so_many_and_others_still_can(self) -> None:
        other = User.objects.create_user("ines@larkmoor.example")
        Member.objects.create(user=other, workspace=self.world.workspace, role=Role.READER)
        with self.served(YALLA_WEB_PROCESSES="1") as port:
            many = [self.follow(port) for _ in range(MOST_OF_ONE)]
            self.assertEqual({one.status for one in many}, {200})
            self.assertEqual(self.follow(port).status, 503)
            self.assertEqual(self.follow(port, other).status, 200)
            for one in many:
                one.close()

    def test_where_a_connection_to_the_database_ends_streams_end_and_begin_anew(self) -> None:
        with self.served(YALLA_WEB_PROCESSES="1") as port:
            followed = self.follow(port)
            with connection.cursor() as cursor:
                cursor.execute(
                    "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid <> pg_backend_pid()"
                    " AND datname = current_database() AND query LIKE 'SELECT pg_notify(%'"
                )
                self.assertEqual(cursor.fetchall(), [(True,)])
            self.assertRaises(EOFError, followed.next)
            deadline = time.monotonic() + PATIENCE
            while (anew := self.follow(port)).status != 200:
                self.assertLess(time.monotonic(), deadline)
                time.sleep(0.5)
            self.snag(self.world.workspace)
            anew.until({"snags"})
            anew.close()

    def snag(self, workspace: Workspace) -> None:
        Snag.everywhere.create(
            workspace=workspace,
            about="send",
            cause=secrets.token_hex(),
            first_at=timezone.now(),
            last_at=timezone.now(),
        )

    def files(self) -> int:
        """Open files of the process that serves."""
        (child,) = (
            Path(f"/proc/{self.server.pid}/task/{self.server.pid}/children").read_text().split()
        )
        return len(os.listdir(f"/proc/{child}/fd"))


class Deaf(TransactionTestCase):
    """A database that stands still says nothing, and a pool that shares connections brings nothing back: no screen
    may believe then that nothing changes."""

    def test_a_database_that_stands_still_ends_streams_until_it_moves(self) -> None:
        wire = Wire(int(connection.settings_dict["PORT"]))
        wire.start()
        hub = Hub()
        with (
            mock.patch.dict(connection.settings_dict, PORT=str(wire.port)),
            mock.patch.multiple("server.stream.hub", HEARTBEAT=0.5, PATIENCE=1.5),
        ):
            try:
                self.assertTrue(hub.takes("m"))
                events = hub.follow("w", "m")
                self.assertEqual(next(events), b"retry: 2000\n\n")
                self.assertEqual(next(events), b":\n\n")
                wire.freeze()
                # Until it ends.
                self.assertLess(len(list(events)), 20)
                self.assertFalse(hub.takes("m"))
                wire.thaw()
                deadline = time.monotonic() + PATIENCE
                while not hub.takes("m"):
                    self.assertLess(time.monotonic(), deadline)
                    time.sleep(0.1)
            finally:
                wire.thaw()
                hub.stop()

    def test_what_does_not_come_back_is_not_heard(self) -> None:
        hub = Hub()
        with (
            mock.patch("server.stream.hub.PATIENCE", 1.5),
            # As where LISTEN was said on another connection than the one that waits.
            mock.patch.object(psycopg.AsyncConnection, "execute", _forgets_listening),
        ):
            try:
                self.assertFalse(hub.takes("m"))
            finally:
                hub.stop()


_execute = psycopg.AsyncConnection.execute


async def _forgets_listening(self: Any, query: Any, *rest: Any) -> Any:
    return await _execute(self, "SELECT 1" if query.startswith("LISTEN") else query, *rest)


class Followed:
    """A stream, read line by line as WHATWG HTML, 9.2 says."""

    def __init__(self, port: int, cookie: str, workspace: str) -> None:
        self.peer = http.client.HTTPConnection("127.0.0.1", port, timeout=PATIENCE)
        path = f"/api/workspaces/{workspace}/stream"
        self.peer.request("GET", path, headers={"Cookie": f"sessionid={cookie}"})
        self.answer = self.peer.getresponse()
        self.status = self.answer.status
        self.type = self.answer.headers["Content-Type"]

    def next(self) -> set[str]:
        """The topics of the next event."""
        data: list[str] = []
        while True:
            line = self.answer.readline().decode()
            if not line:
                raise EOFError
            field, _, value = line.rstrip("\n").partition(":")
            if not field and data:
                found: dict[str, Any] = json.loads("\n".join(data))
                return set(found["topics"])
            if field == "data":
                data.append(value.removeprefix(" "))

    def until(self, topics: set[str]) -> None:
        """Until all of these were told."""
        missing = set(topics)
        while missing:
            missing -= self.next()

    def close(self) -> None:
        self.answer.close()
        self.peer.close()
