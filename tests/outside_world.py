"""The outside world beside a test, as a process of its own: its websites, services and inboxes."""

import json
import subprocess
import tempfile
import time
import urllib.request
from typing import Any
from urllib.parse import urlencode

from django.test import override_settings

from launch.postgres import free_port
from tests.processes import start, stop


class Outside:
    """A mixin: the outside world, as a process of its own."""

    folder: tempfile.TemporaryDirectory[str]
    host: str
    process: subprocess.Popen[bytes]
    allowed: Any

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()  # type: ignore[misc]
        cls.folder = tempfile.TemporaryDirectory()
        port = free_port()
        cls.host = f"http://127.0.0.1:{port}"
        cls.process = start(
            "-m",
            "outside",
            YALLA_DATA=cls.folder.name,
            YALLA_OUTSIDE_PORT=str(port),
            YALLA_SMTP_PORT=str(free_port()),
        )
        cls.allowed = override_settings(FETCH_HOSTS=[f"127.0.0.1:{port}"], OUTSIDE_ADDRESS=cls.host)
        cls.allowed.enable()
        for _ in range(200):
            try:
                urllib.request.urlopen(cls.host, timeout=1)
                break
            except OSError:
                time.sleep(0.1)

    @classmethod
    def tearDownClass(cls) -> None:
        stop(cls.process)
        cls.allowed.disable()
        cls.folder.cleanup()
        super().tearDownClass()  # type: ignore[misc]

    def press(self, at: str, **what: Any) -> str:
        """Send a form of one of its pages, as somebody does who is there."""
        data = urlencode(what, doseq=True).encode()
        with urllib.request.urlopen(f"{self.host}{at}", data, timeout=30) as answer:
            return str(answer.read().decode())

    def mood(self, service: str, mood: str) -> None:
        """Let a service behave in a way from now on."""
        self.press(f"/services/{service}/", do="mood", mood=mood)

    def ask(self, path: str, **headers: str) -> Any:
        """What one of its APIs says."""
        named = {name.replace("_", "-"): text for name, text in headers.items()}
        request = urllib.request.Request(f"{self.host}/api{path}", headers=named)
        with urllib.request.urlopen(request, timeout=10) as answer:
            return json.loads(answer.read())
