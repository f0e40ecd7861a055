"""One running Yalla: its data folder, its PostgreSQL, and its processes."""

import os
import secrets
import shutil
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path

from .builds import PYTHON, ROOT, VENV
from .commands import run
from .postgres import Cluster
from .words import Stop, say

MEMBER = "noor@larkmoor.example"
PASSWORD = "dark skies tonight"
SERVING = "yalla_serving"
"""The database role of everything but migrations."""
_LEAST_SPACE = 300 * 2**20


class World:
    """Everything that one start needs; `stop` ends whatever `start` began."""

    def __init__(self, data: Path, port: int) -> None:
        self.data = data
        self.port = port
        self.outside_port = int(os.environ.get("YALLA_OUTSIDE_PORT", port + 10))
        self.smtp_port = int(os.environ.get("YALLA_SMTP_PORT", port + 25))
        self.inbound_port = int(os.environ.get("YALLA_INBOUND_PORT", port + 24))
        data.mkdir(parents=True, exist_ok=True)
        if shutil.disk_usage(data).free < _LEAST_SPACE:
            raise Stop(f"The disk that holds {data} is nearly full. Free 300 MB, then start again.")
        self.cluster = Cluster(data / "postgres")
        self._processes: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def environment(self, *, owner: bool = False) -> dict[str, str]:
        """The settings of all its processes; `owner`: of what makes the tables, and owns them. Everything else
        goes to the database as a role that can neither change them nor take evidence away."""
        serving = {"YALLA_DB_USER": SERVING, "YALLA_DB_PASSWORD": self._secret("serving-password")}
        named = {f"YALLA_DB_SERVING_{key[9:]}": text for key, text in serving.items()}
        return {
            **self.cluster.environment(),
            **(named if owner else serving),
            "PATH": f"{VENV / 'bin'}:{os.environ.get('PATH', '')}",
            "PYTHONUNBUFFERED": "1",
            "DJANGO_SETTINGS_MODULE": "server.config.settings",
            "YALLA_DATA": str(self.data),
            "YALLA_PORT": str(self.port),
            "YALLA_PUBLIC_ADDRESS": self.address,
            "YALLA_SECRET_KEY": self._secret("secret-key"),
            "YALLA_ERASURE_KEYS": self._secret("erasure-key"),
            "YALLA_SEALING_KEYS": self._secret("sealing-key"),
            "YALLA_SIGNING_KEYS": self._secret("signing-key"),
            "YALLA_EVIDENCE_KEYS": self._secret("evidence-key"),
            "YALLA_CLOCK_MOVABLE": "1",
            "YALLA_OUTSIDE_TOKEN": self._secret("outside-token"),
            "YALLA_OUTSIDE_PORT": str(self.outside_port),
            "YALLA_OUTSIDE_ADDRESS": f"http://127.0.0.1:{self.outside_port}",
            "YALLA_SMTP_PORT": str(self.smtp_port),
            "YALLA_RETURN_DOMAIN": "back.larkmoor.example",
            "YALLA_INBOUND_PORT": str(self.inbound_port),
            # The sheet host of the outside world is on loopback.
            "YALLA_FETCH_HOSTS": f"127.0.0.1:{self.outside_port}",
            "YALLA_DEMO_EMAIL": os.environ.get("YALLA_DEMO_EMAIL", MEMBER),
            "YALLA_DEMO_PASSWORD": os.environ.get("YALLA_DEMO_PASSWORD", PASSWORD),
        }

    def start_database(self) -> None:
        """Start PostgreSQL; it is made where there is none."""
        for port in (self.port, self.outside_port, self.smtp_port, self.inbound_port):
            _check_free(port)
        self.cluster.start()

    def make_tables(self) -> None:
        """Bring the tables up to date."""
        say("bringing the tables up to date")
        self.manage("migrate", "--verbosity", "0", owner=True)

    def collect(self) -> None:
        """Collect the static files, the built interface among them."""
        self.manage("collectstatic", "--noinput", "--verbosity", "0")

    def manage(self, *words: str, owner: bool = False) -> None:
        """A command of Django's; as the owner of the tables where it changes them."""
        run(
            [PYTHON, "manage.py", *words],
            f"“manage.py {words[0]}” failed.",
            cwd=ROOT,
            env=self.environment(owner=owner),
        )

    def load_demo(self) -> None:
        """Make the demo data, if they are not there."""
        say("making the demo data, if there are none (once, about a minute)")
        output = run(
            [PYTHON, "-m", "demo"],
            "The demo data could not be made.",
            cwd=ROOT,
            env=self.environment(),
        )
        for line in output.splitlines():
            if line.startswith("demo: "):
                say(line.removeprefix("demo: "))

    def start(self, *names: str) -> None:
        """Start the processes of the Procfile (all, or those named), and wait for an answer."""
        log = (self.data / "processes.log").open("ab")
        self._processes = subprocess.Popen(
            [VENV / "bin" / "honcho", "-f", ROOT / "Procfile", "start", *names],
            cwd=ROOT,
            env={**os.environ, **self.environment()},
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            # Ctrl-C reaches this process alone, which then ends the others in order.
            start_new_session=True,
        )
        deadline = time.monotonic() + 60
        while not self._answers(well=not names):
            if self._processes.poll() is not None or time.monotonic() > deadline:
                raise Stop(f"The server does not start; its log is {self.data / 'processes.log'}.")
            time.sleep(0.2)

    def wait(self) -> None:
        """Until one of the processes ends."""
        assert self._processes is not None
        self._processes.wait()
        raise Stop(f"A process ended by itself; the log is {self.data / 'processes.log'}.")

    def stop(self) -> None:
        """End every process that was started, and the database."""
        if self._processes is not None and self._processes.poll() is None:
            self._processes.send_signal(signal.SIGTERM)
            try:
                self._processes.wait(timeout=20)
            except subprocess.TimeoutExpired:
                os.killpg(self._processes.pid, signal.SIGKILL)
        self.cluster.stop()

    def _answers(self, *, well: bool) -> bool:
        """Whether the server answers; `well`: with a worker and a mail server."""
        try:
            with urllib.request.urlopen(f"{self.address}/health", timeout=5):
                return True
        except urllib.error.HTTPError:
            return not well
        except (urllib.error.URLError, OSError):
            return False

    def _secret(self, name: str) -> str:
        file = self.data / name
        if not file.exists():
            file.write_text(secrets.token_urlsafe(40))
            file.chmod(0o600)
        return file.read_text()


def _check_free(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            raise Stop(
                f"Port {port} is in use. Stop what uses it, or set YALLA_PORT to another one."
            ) from error
