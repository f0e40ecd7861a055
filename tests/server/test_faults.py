"""What a bad day does to the running server: clients that stall, a database that is away, a mail
server that hangs. Real processes, real sockets; each with what visitors, members and /health see."""

import contextlib
import http.client
import json
import os
import re
import signal
import socket
import subprocess
import threading
import time
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

from django.db import connection, transaction
from django.test import Client

from server.people.models import Fact, Subscriber
from server.sequences.models import Run
from server.submissions.models import Submission
from tests.processes import kill, start, stop
from tests.served import FORM, PATIENCE, Running, Wire
from tests.world import BACKEND


class Frozen(Running):
    def test_a_database_that_does_not_answer_keeps_no_visitor_waiting(self) -> None:
        wire = Wire(int(connection.settings_dict["PORT"]))
        wire.start()
        with self.served(YALLA_DB_PORT=str(wire.port)) as port:
            self.assertEqual(self.ask(port, "GET", self.form())[0], 200)
            wire.freeze()
            for method, path in (
                ("GET", self.form()),
                ("POST", self.form()),
                ("GET", f"{self.form()}/part"),
                ("POST", "/hook/x"),
                ("GET", "/u/x"),
                ("GET", "/health"),
            ):
                began = time.monotonic()
                status, said = self.ask(port, method, path, email="ines@example.com")
                took = time.monotonic() - began
                # Some answer without the database; none hangs. It is 3 s at the most when nothing else runs.
                self.assertLess(took, 8, (method, path))
                self.assertIn(
                    status, (200, 404, 503) if "/u/" in path else (200, 503), (path, said)
                )
            wire.thaw()
            deadline = time.monotonic() + PATIENCE
            while self.ask(port, "GET", self.form())[0] != 200:
                self.assertLess(time.monotonic(), deadline)
                time.sleep(0.2)


class Filled(Running):
    def test_no_member_takes_the_threads_of_visitors(self) -> None:
        client = Client()
        client.force_login(self.world.user, BACKEND)
        cookie = client.cookies["sessionid"].value
        slug = self.world.workspace.slug
        found: list[tuple[int, str]] = []

        def people(port: int) -> None:
            peer = http.client.HTTPConnection("127.0.0.1", port, timeout=PATIENCE)
            peer.request(
                "GET", f"/api/workspaces/{slug}/people", headers={"Cookie": f"sessionid={cookie}"}
            )
            answer = peer.getresponse()
            found.append((answer.status, answer.read().decode()))

        with self.served(YALLA_STATEMENT_SECONDS="4") as port, transaction.atomic():
            with connection.cursor() as cursor:
                cursor.execute("LOCK TABLE people_subscriber IN ACCESS EXCLUSIVE MODE")
            members = [threading.Thread(target=people, args=(port,)) for _ in range(24)]
            for one in members:
                one.start()
            time.sleep(1.0)
            for _ in range(6):
                self.assertEqual(self.ask(port, "GET", self.form())[0], 200)
            self.assertEqual(found, [], "all of them wait")
            for one in members:
                one.join()
        self.assertEqual({status for status, _ in found}, {503})
        self.assertIn("took longer than it may", found[0][1])


class SlowClients(Running):
    def test_many_that_never_finish_stop_nobody(self) -> None:
        stalled: list[socket.socket] = []
        with self.served(YALLA_REQUEST_SECONDS="600") as port:
            for number in range(96):
                one = socket.create_connection(("127.0.0.1", port), 5)
                head = f"POST {self.form()} HTTP/1.1\r\nHost: 127.0.0.1\r\n".encode()
                if number % 3 == 0:
                    one.sendall(head[:20])
                elif number % 3 == 1:
                    one.sendall(head + b"Content-Length: 500\r\n\r\nemail=")
                else:
                    one.sendall(head + b"Transfer-Encoding: chunked\r\n\r\n3\r\nema")
                stalled.append(one)
            time.sleep(0.5)
            self.assertIn(self.ask(port, "GET", "/health")[0], (200, 503))
            self.assertEqual(self.ask(port, "GET", self.form())[0], 200)
            sent = {"_rendering": self.rendering(), "email": "ines@example.com"}
            self.assertEqual(self.ask(port, "POST", self.form(), **sent)[0], 303)
            self.assertEqual(Submission.everywhere.count(), 1)
            for one in stalled:
                one.close()

    def test_what_is_far_too_large_is_refused_at_once(self) -> None:
        with (
            self.served(YALLA_REQUEST_SECONDS="600") as port,
            socket.create_connection(("127.0.0.1", port), PATIENCE) as one,
        ):
            one.sendall(
                f"POST {self.form()} HTTP/1.1\r\nHost: 127.0.0.1\r\n"
                "Content-Length: 10000000\r\n\r\n".encode()
            )
            self.assertIn(b" 413 ", one.recv(200))


class DatabaseAway(Running):
    def test_away_for_a_while_and_back(self) -> None:
        wire = Wire(int(connection.settings_dict["PORT"]))
        wire.start()
        taken = 0
        with self.served(YALLA_DB_PORT=str(wire.port)) as port:
            for number in range(4):
                sent = {"_rendering": self.rendering(), "email": f"a{number}@example.com"}
                status, _ = self.ask(port, "POST", self.form(), **sent)
                self.assertEqual(status, 303)
                taken += 1
            wire.away()
            for number in range(6):
                sent = {"_rendering": self.rendering(), "email": f"b{number}@example.com"}
                status, body = self.ask(port, "POST", self.form(), **sent)
                self.assertEqual(status, 503)
                self.assertIn("try again", body)
                self.assertNotIn("Traceback", body)
            status, body = self.ask(port, "GET", "/health")
            self.assertEqual(status, 503)
            self.assertIn("cannot be reached", json.loads(body)["database"])
            status, body = self.ask(port, "GET", "/api/session")
            self.assertIn(status, (200, 503))
            wire.back()
            deadline = time.monotonic() + PATIENCE
            while True:
                sent = {"_rendering": self.rendering(), "email": "back@example.com"}
                if self.ask(port, "POST", self.form(), **sent)[0] == 303:
                    taken += 1
                    break
                self.assertLess(time.monotonic(), deadline, "it did not come back")
                time.sleep(0.3)
        # What was answered is what was done.
        self.assertEqual(Submission.everywhere.count(), taken)


class Killed(Running):
    """Web workers, workers and database backends killed in turn while posts come in."""

    POSTS = 160
    CLIENTS = 4
    own: list[int]
    """The connections of the test itself, which stay."""

    def test_what_was_accepted_is_there_once_and_routed_once(self) -> None:
        sent = [
            {"_rendering": self.rendering(), "email": f"k{n}@example.com", "first_name": "Ines"}
            for n in range(self.POSTS)
        ]
        told: list[int] = []
        with connection.cursor() as cursor:
            cursor.execute("SELECT pid FROM pg_stat_activity WHERE datname = current_database()")
            self.own = [pid for (pid,) in cursor.fetchall()]
        with self.served(YALLA_PROXIES="1") as port:
            clients = [
                threading.Thread(target=self.insist, args=(port, sent[first :: self.CLIENTS], told))
                for first in range(self.CLIENTS)
            ]
            for one in clients:
                one.start()
            worker = start("manage.py", "worker")
            killed = 0
            try:
                while any(one.is_alive() for one in clients):
                    time.sleep(0.4)
                    self.kill_some(killed % 3, worker)
                    killed += 1
                    if worker.poll() is not None:
                        worker = start("manage.py", "worker")
                # Nobody's post was lost on the way, and each kind was killed more than once.
                self.assertEqual(len(told), self.POSTS)
                self.assertGreaterEqual(killed, 6)
                deadline = time.monotonic() + 2 * PATIENCE
                while Submission.everywhere.filter(state="routed").count() < self.POSTS:
                    self.assertLess(time.monotonic(), deadline, "not all of it was routed")
                    time.sleep(0.2)
            finally:
                for one in clients:
                    one.join()
                stop(worker)
            self.assertIn(self.ask(port, "GET", "/health")[0], (200, 503))
        self.assertEqual(Submission.everywhere.count(), self.POSTS)
        self.assertEqual(Subscriber.everywhere.count(), self.POSTS)
        self.assertEqual(Run.everywhere.count(), self.POSTS)
        added = Fact.everywhere.filter(kind="added").values("subscriber").distinct()
        self.assertEqual(added.count(), Fact.everywhere.filter(kind="added").count())

    def insist(self, port: int, sent: list[dict[str, str]], told: list[int]) -> None:
        """Post each until it is accepted, as a browser whose person presses the button again."""
        for fields in sent:
            deadline = time.monotonic() + PATIENCE
            while time.monotonic() < deadline:
                with contextlib.suppress(OSError, http.client.HTTPException):
                    if self.ask(port, "POST", self.form(), **fields)[0] == 303:
                        told.append(1)
                        break
                time.sleep(0.05)
            # All clients together: some 20 posts a second.
            time.sleep(self.CLIENTS / 20)

    def kill_some(self, turn: int, worker: subprocess.Popen[bytes]) -> None:
        """Kill a web process, the worker, or every connection to the database."""
        if turn == 0:
            # The one that runs longest, so that each is killed in its turn.
            children = Path(f"/proc/{self.server.pid}/task/{self.server.pid}/children").read_text()
            for pid in children.split()[:1]:
                os.kill(int(pid), signal.SIGKILL)
        elif turn == 1:
            kill(worker)
        else:
            with connection.cursor() as cursor:
                cursor.execute(
                    "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
                    " WHERE datname = current_database() AND NOT pid = ANY(%s)",
                    [self.own],
                )


class MailHangs(Running):
    def test_routing_goes_on(self) -> None:
        silent = socket.create_server(("127.0.0.1", 0))
        rows = [self.world.submit(f"p{n}@example.com", first_name="Ines") for n in range(60)]
        worker = start("manage.py", "worker", "live", YALLA_SMTP_PORT=str(silent.getsockname()[1]))
        try:
            deadline = time.monotonic() + PATIENCE
            while Submission.everywhere.filter(state="routed").count() < len(rows):
                self.assertLess(time.monotonic(), deadline, "a silent mail server stops routing")
                time.sleep(0.2)
            late = self.world.submit("late@example.com", first_name="Late")
            began = time.monotonic()
            while Submission.everywhere.get(pk=late.pk).state != "routed":
                self.assertLess(time.monotonic() - began, PATIENCE)
                time.sleep(0.1)
        finally:
            stop(worker)
            silent.close()


class Context(Running):
    """Optional data never fails a post: over the real server, as bytes."""

    def test_whatever_comes_along_is_no_reason_to_lose_it(self) -> None:
        cases: list[dict[str, Any]] = [
            {"query": "?a=%00b&%00=c"},
            {"_page": "https://[x/?utm_source=a"},
            {"_page": "https://x.example/?a=%00%ff"},
            {"_from": "\x00\x01"},
            {"_title": "a\x00b"},
            {"referrer": "https://[x"},
            {"_zone": "\x00/../.."},
            *(
                {"_charset_": one}
                for one in (
                    "zip",
                    "hex",
                    "base64",
                    "rot13",
                    "utf-7",
                    "unicode_escape",
                    "idna",
                    "punycode",
                    "bz2",
                    "uu",
                    "quopri",
                    "mbcs",
                    "raw_unicode_escape",
                    "\u00e9",
                )
            ),
        ]
        with self.served() as port:
            for number, case in enumerate(cases):
                fields = {
                    "_rendering": self.rendering(),
                    "email": f"p{number}@example.com",
                    "first_name": "I\ud800n".encode("utf-8", "surrogatepass").decode("latin-1"),
                    **{name: text for name, text in case.items() if name.startswith("_")},
                }
                peer = http.client.HTTPConnection("127.0.0.1", port, timeout=PATIENCE)
                headers = {**FORM, **({"Referer": case["referrer"]} if "referrer" in case else {})}
                peer.request(
                    "POST", self.form() + case.get("query", ""), urlencode(fields), headers
                )
                answer = peer.getresponse()
                self.assertEqual(answer.status, 303, (case, answer.read()[:300]))
                peer.close()
        stored = Submission.everywhere.order_by("received_at")
        self.assertEqual(stored.count(), len(cases))
        for row in stored:
            self.assertRegex(row.answers[0][1], re.compile(r"p\d+@example\.com"))
