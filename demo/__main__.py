"""Make the demo data, once, from a fixed seed and relative to today: `python -m demo`."""

import contextlib
import os
import random
import smtplib
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
django.setup()

from django.conf import settings  # noqa: E402
from django.db import connection, transaction  # noqa: E402

from outside.mailbox import Mailbox  # noqa: E402
from server.config.gc_tuning import tune_gc  # noqa: E402
from server.workspaces.models import Workspace  # noqa: E402

from .observatory import make_observatory  # noqa: E402


def main() -> int:
    """Make the observatory, all of it or nothing."""
    if Workspace.objects.filter(slug="larkmoor").exists():
        return 0
    Mailbox(Path(settings.DATA_DIR) / "outside" / "mail").empty()
    (Path(settings.DATA_DIR) / "outside" / "services.sqlite").unlink(missing_ok=True)
    tune_gc()
    outside = subprocess.Popen([sys.executable, "-m", "outside"])
    try:
        _wait_for_mail()
        _wait_for_web()
        with transaction.atomic():
            made = make_observatory(
                address=os.environ["YALLA_DEMO_EMAIL"],
                password=os.environ["YALLA_DEMO_PASSWORD"],
                outside=settings.OUTSIDE_ADDRESS,
                chance=random.Random(8),
            )
            # What these jobs ask for has been done on the way, at its own time.
            with connection.cursor() as cursor:
                cursor.execute("DELETE FROM procrastinate_jobs WHERE status = 'todo'")
    finally:
        outside.terminate()
        outside.wait()
    print(f"demo: {made}")
    return 0


def _wait_for_mail() -> None:
    for _ in range(100):
        with contextlib.suppress(OSError), smtplib.SMTP(settings.EMAIL_HOST, settings.EMAIL_PORT):
            return
        time.sleep(0.1)
    raise SystemExit("The mail server of the outside world does not start.")


def _wait_for_web() -> None:
    for _ in range(100):
        with contextlib.suppress(OSError), urllib.request.urlopen(settings.OUTSIDE_ADDRESS):
            return
        time.sleep(0.1)
    raise SystemExit("The web server of the outside world does not start.")


if __name__ == "__main__":
    sys.exit(main())
