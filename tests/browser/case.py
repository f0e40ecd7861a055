"""The whole of it for a browser test: server, worker, outside world, and Chromium."""

import contextlib
import functools
import os
import re
import secrets
import shutil
import smtplib
import sqlite3
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import TestResult

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.management import CommandError
from django.test import override_settings
from django.test.testcases import LiveServerThread, QuietWSGIRequestHandler
from playwright.sync_api import Browser, Page, expect, sync_playwright

from launch.postgres import free_port
from outside.mailbox import Mailbox
from server.stream.hub import HUB
from tests.processes import at_end, start, stop
from tests.world import PASSWORD, make_world

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
TOKEN = "only-for-tests"
LONGEST = 420
"""Seconds; the longest test takes two minutes."""
PATIENCE = 40_000
"""Milliseconds that something may take to happen on a page: both cores are busy with other tests."""
TURN_ON = re.compile("^Turn on")
"""The button, whether it counts changes or not."""
RETURN_DOMAIN = "back.larkmoor.example"
expect.set_options(timeout=PATIENCE)


class House:
    """What all browser tests share, started with the first of them: the outside world, a worker, the
    mail server that takes what comes back, and Chromium."""

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="yalla-browser-"))
        self.live_port, web, self.smtp, inbound = (free_port() for _ in range(4))
        address = f"http://localhost:{self.live_port}"
        self.outside = f"http://127.0.0.1:{web}"
        self.mailbox = Mailbox(self.folder / "outside" / "mail")
        self.settings = override_settings(
            PUBLIC_ADDRESS=address,
            CSRF_TRUSTED_ORIGINS=[address],
            OUTSIDE_TOKEN=TOKEN,
            OUTSIDE_ADDRESS=self.outside,
            FETCH_HOSTS=[f"127.0.0.1:{web}"],
            EMAIL_BACKEND="server.mail.backend.EmailBackend",
            EMAIL_PORT=self.smtp,
            RETURN_DOMAIN=RETURN_DOMAIN,
        )
        self._shared = {
            "YALLA_DATA": str(self.folder),
            "YALLA_PUBLIC_ADDRESS": address,
            "YALLA_OUTSIDE_TOKEN": TOKEN,
            "YALLA_OUTSIDE_PORT": str(web),
            "YALLA_FETCH_HOSTS": f"127.0.0.1:{web}",
            "YALLA_SMTP_PORT": str(self.smtp),
            "YALLA_RETURN_DOMAIN": RETURN_DOMAIN,
            "YALLA_INBOUND_PORT": str(inbound),
        }
        self._processes = [
            self._start("-m", "outside"),
            self._start("-m", "server.inbound"),
        ]
        self._worker = self._start("manage.py", "worker")
        self._playwright = sync_playwright().start()
        self.browser = self._chromium()
        wait_until(lambda: _answers(self.smtp))

    def ready(self) -> None:
        """What an earlier test may have ended is there again, and what it left is gone."""
        # A worker ends where the database fails it, and is started again (`Procfile`).
        if self._worker.poll() is not None:
            self._worker = self._start("manage.py", "worker")
        if not self.browser.is_connected():
            self.browser = self._chromium()
        self.mailbox.empty()
        with contextlib.closing(sqlite3.connect(self.folder / "outside" / "services.sqlite")) as db:
            if db.execute("SELECT 1 FROM sqlite_master WHERE name = 'thing'").fetchone():
                db.execute("DELETE FROM thing")
                db.commit()

    def kill_browser(self) -> None:
        """End Chromium, whatever it is doing."""
        subprocess.run(["pkill", "-KILL", "-f", "--", self._mark], check=False)

    def end(self) -> None:
        """End everything."""
        self.browser.close()
        self._playwright.stop()
        for process in (*self._processes, self._worker):
            stop(process)
        shutil.rmtree(self.folder, ignore_errors=True)

    @property
    def user_agent(self) -> str:
        """How the browser of a person names itself: a headless one counts as a program."""
        major = self.browser.version.partition(".")[0]
        return (
            "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) "
            f"Chrome/{major}.0.0.0 Safari/537.36"
        )

    def _start(self, *words: str) -> subprocess.Popen[bytes]:
        return start(*words, **self._shared)

    def _chromium(self) -> Browser:
        # Tells this browser's processes from any other's.
        self._mark = f"--of-test={secrets.token_hex(8)}"
        return self._playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=[*FLAGS, self._mark]
        )


@functools.cache
def shared_house() -> House:
    """The one of this run."""
    house = House()
    at_end(house.end)
    # Its connection would keep the database of the tests.
    at_end(HUB.stop)
    return house


class _Server(LiveServerThread):
    """At the address that the processes know, where the class before this one has just left it."""

    def _create_server(self, connections_override: Any = None) -> Any:
        return self.server_class(
            (self.host, self.port),
            QuietWSGIRequestHandler,
            allow_reuse_address=True,
            connections_override=connections_override,
        )


class BrowserCase(StaticLiveServerTestCase):
    """Real processes on the database of the test, and a browser to look with."""

    server_thread_class = _Server
    house: House
    outside: str
    mailbox: Mailbox

    @classmethod
    def setUpClass(cls) -> None:
        # Playwright's loop runs in this thread; the ORM is used here between its calls.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
        cls.house = shared_house()
        cls.outside, cls.mailbox = cls.house.outside, cls.house.mailbox
        cls.port = cls.house.live_port
        cls.house.settings.enable()
        cls.addClassCleanup(cls.house.settings.disable)
        super().setUpClass()
        cls.house.ready()

    def _fixture_teardown(self) -> None:
        """Empty the tables; where the worker holds a row just then, PostgreSQL may end either."""
        for left in range(4, -1, -1):
            try:
                super()._fixture_teardown()  # type: ignore[misc]
                break
            except CommandError:
                if not left:
                    raise
                time.sleep(0.5)
        self.house.ready()

    def run(self, result: TestResult | None = None) -> TestResult | None:
        """The test; where a call of the browser never comes back, the browser is ended, and it fails."""
        watch = threading.Timer(LONGEST, self.house.kill_browser)
        watch.daemon = True
        watch.start()
        try:
            return super().run(result)
        finally:
            watch.cancel()

    def open(self, width: int = 1280, height: int = 800) -> Page:
        """A page in a private window; what goes wrong in it fails the test."""
        # Menus that still move under the pointer would take a click that was meant elsewhere.
        context = self.house.browser.new_context(
            viewport={"width": width, "height": height},
            reduced_motion="reduce",
            user_agent=self.house.user_agent,
        )
        context.set_default_timeout(PATIENCE)
        page = context.new_page()
        self.addCleanup(context.close)
        page.on("pageerror", lambda error: self.fail(f"The page broke: {error}"))
        page.on(
            "console",
            lambda message: (
                self.fail(f"The console says: {message.text}")
                if "Content Security Policy" in message.text
                else None
            ),
        )
        return page

    def sign_in(self, page: Page, address: str) -> None:
        """Sign in on the screen, up to the desk."""
        page.goto(f"{self.live_server_url}/sign-in")
        page.get_by_label("Email").fill(address)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.wait_for_url("**/desk")


class MemberCase(BrowserCase):
    """A world, and a member of its workspace who is signed in."""

    def setUp(self) -> None:
        self.world = make_world()
        self.page = self.open()
        self.sign_in(self.page, self.world.user.email)
        self.at = f"{self.live_server_url}/w/{self.world.workspace.slug}"


def wait_until(holds: Callable[[], bool], seconds: float = PATIENCE / 1000) -> None:
    """Wait until something holds that another process does."""
    deadline = time.monotonic() + seconds
    while not holds():
        if time.monotonic() > deadline:
            raise AssertionError("It did not happen in time.")
        time.sleep(0.1)


def _answers(port: int) -> bool:
    try:
        with smtplib.SMTP("127.0.0.1", port, timeout=2):
            return True
    except OSError:
        return False
