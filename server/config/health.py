"""GET /health: whether the database, a worker, the mail server and what takes returned mail answer."""

import smtplib
import socket
from datetime import timedelta

import psycopg
from django.conf import settings
from django.db import connection
from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache

from server.workspaces.shapes import Json

_BEAT = timedelta(seconds=60)


@never_cache
def health(request: HttpRequest) -> JsonResponse:
    """200 if all answer; 503 with the reasons otherwise."""
    states = {**_database_and_worker(), "mail": _mail()}
    if settings.RETURN_DOMAIN:
        states["inbound"] = _inbound()
    well = all(state == "ok" for state in states.values())
    return JsonResponse({"ok": well, **states}, status=200 if well else 503)


def _database_and_worker() -> dict[str, str]:
    """Over a connection of its own, which waits for no other request's and not long."""
    database: Json = settings.DATABASES["default"]
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


def _inbound() -> str:
    """Whether what comes back is taken."""
    try:
        with socket.create_connection((settings.INBOUND_HOST, settings.INBOUND_PORT), 2) as heard:
            heard.settimeout(2)
            greeting = heard.recv(512)
    except OSError as error:
        return f"cannot be reached: {type(error).__name__}"
    return "ok" if greeting.startswith(b"220") else "takes nothing just now"


def _mail() -> str:
    try:
        with smtplib.SMTP(settings.EMAIL_HOST, settings.EMAIL_PORT, timeout=2) as server:
            server.noop()
    except (smtplib.SMTPException, OSError) as error:
        return f"cannot be reached: {type(error).__name__}"
    return "ok"
