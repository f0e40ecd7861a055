"""GET /health: whether the database, a worker and the mail server answer."""

import smtplib
from datetime import timedelta
from typing import Any

import psycopg
from django.conf import settings
from django.db import connection
from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache

_BEAT = timedelta(seconds=60)


@never_cache
def health(request: HttpRequest) -> JsonResponse:
    """200 if all three answer; 503 with the reasons otherwise."""
    states = {**_database_and_worker(), "mail": _mail()}
    well = all(state == "ok" for state in states.values())
    return JsonResponse({"ok": well, **states}, status=200 if well else 503)


def _database_and_worker() -> dict[str, str]:
    """Over a connection of its own, which waits for no other request's and not long."""
    database: dict[str, Any] = settings.DATABASES["default"]
    try:
        with psycopg.connect(
            host=database["HOST"],
            port=database["PORT"],
            dbname=connection.settings_dict["NAME"],
            user=database["USER"],
            password=database["PASSWORD"],
            connect_timeout=2,
            options="-c statement_timeout=2000",
            autocommit=True,
        ) as own:
            row = own.execute("SELECT max(last_heartbeat) FROM procrastinate_workers").fetchone()
    except (psycopg.Error, OSError) as error:
        return {
            "database": f"cannot be reached: {type(error).__name__}",
            "worker": "not known",
        }
    beat = row[0] if row else None
    runs = beat is not None and timezone.now() - beat <= _BEAT
    return {"database": "ok", "worker": "ok" if runs else "no worker runs"}


def _mail() -> str:
    try:
        with smtplib.SMTP(settings.EMAIL_HOST, settings.EMAIL_PORT, timeout=2) as server:
            server.noop()
    except (smtplib.SMTPException, OSError) as error:
        return f"cannot be reached: {type(error).__name__}"
    return "ok"
