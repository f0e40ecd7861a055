"""The whole of it for a browser test: server, worker, outside world, and Chromium."""

import os
import re
import secrets
import smtplib
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from unittest import TestResult

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.management import CommandError
from django.test import override_settings
from playwright.sync_api import Browser, Page, Playwright, expect, sync_playwright

from launch.postgres import free_port
from outside.mailbox import Mailbox
from tests.processes import start, stop
from tests.world import PASSWORD

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


class BrowserCase(StaticLiveServerTestCase):
    """Real processes on the database of the test, and a browser to look with."""

    browser: Browser
    mark: str
    """Tells this browser's processes from any other's."""
    playwright: Playwright
    processes: list[subprocess.Popen[bytes]]
    settings_on: override_settings
    shared: dict[str, str]
    folder: tempfile.TemporaryDirectory[str]
    outside: str
    mailbox: Mailbox

    @classmethod
    def setUpClass(cls) -> None:
        # Playwright's loop runs in this thread; the ORM is used here between its calls.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
        super().setUpClass()
        cls.folder = tempfile.TemporaryDirectory()
        smtp, web, inbound = (str(free_port()) for _ in range(3))
        cls.outside = f"http://127.0.0.1:{web}"
        cls.mailbox = Mailbox(Path(cls.folder.name) / "outside" / "mail")
        cls.settings_on = override_settings(
            PUBLIC_ADDRESS=cls.live_server_url,
            CSRF_TRUSTED_ORIGINS=[cls.live_server_url],
            OUTSIDE_TOKEN=TOKEN,
            OUTSIDE_ADDRESS=cls.outside,
            FETCH_HOSTS=[f"127.0.0.1:{web}"],
            EMAIL_BACKEND="server.mail.backend.EmailBackend",
            EMAIL_PORT=int(smtp),
            RETURN_DOMAIN=RETURN_DOMAIN,
        )
        cls.settings_on.enable()
        shared = {
            "YALLA_DATA": cls.folder.name,
            "YALLA_PUBLIC_ADDRESS": cls.live_server_url,
            "YALLA_OUTSIDE_TOKEN": TOKEN,
            "YALLA_OUTSIDE_PORT": web,
            "YALLA_FETCH_HOSTS": f"127.0.0.1:{web}",
            "YALLA_SMTP_PORT": smtp,
            "YALLA_RETURN_DOMAIN": RETURN_DOMAIN,
            "YALLA_INBOUND_PORT": inbound,
        }
        cls.shared = shared
        cls.processes = [
            start("-m", "outside", **shared),
            start("manage.py", "worker", **shared),
            start("-m", "server.inbound", **shared),
        ]
        cls.playwright = sync_playwright().start()
        cls.mark = f"--of-test={secrets.token_hex(8)}"
        cls.browser = cls.playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=[*FLAGS, cls.mark]
        )
        wait_until(lambda: _answers(int(smtp)))

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        for process in cls.processes:
            stop(process)
        cls.settings_on.disable()
        cls.folder.cleanup()
        super().tearDownClass()

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
        # A worker ends where the database fails it, and is started again (`Procfile`).
        if self.processes[1].poll() is not None:
            self.processes[1] = start("manage.py", "worker", **self.shared)

    def run(self, result: TestResult | None = None) -> TestResult | None:
        """The test; where a call of the browser never comes back, the browser is ended, and it fails."""
        watch = threading.Timer(
            LONGEST, subprocess.run, [["pkill", "-KILL", "-f", "--", self.mark]]
        )
        watch.daemon = True
        watch.start()
        try:
            return super().run(result)
        finally:
            watch.cancel()

    def open(self, width: int = 1280, height: int = 800) -> Page:
        """A page in a private window; what goes wrong in it fails the test."""
        # Menus that still move under the pointer would take a click that was meant elsewhere.
        context = self.browser.new_context(
            viewport={"width": width, "height": height}, reduced_motion="reduce"
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
