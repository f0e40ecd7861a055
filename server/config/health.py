"""GET /health: whether the database, a worker and the mail server answer."""

import smtplib
from datetime import timedelta

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache

_BEAT = timedelta(seconds=60)


@never_cache
def health(request: HttpRequest) -> JsonResponse:
    """200 if all three answer; 503 with the reasons otherwise."""
    states = {"database": _database(), "worker": "not known", "mail": _mail()}
    if states["database"] == "ok":
        states["worker"] = _worker()
    well = all(state == "ok" for state in states.values())
    return JsonResponse({"ok": well, **states}, status=200 if well else 503)


def _database() -> str:
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except (DatabaseError, OSError) as error:
        return f"cannot be reached: {type(error).__name__}"
    return "ok"


def _worker() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT max(last_heartbeat) FROM procrastinate_workers")
        beat = cursor.fetchone()[0]
    if beat is None or timezone.now() - beat > _BEAT:
        return "no worker runs"
    return "ok"


def _mail() -> str:
    try:
        with smtplib.SMTP(settings.EMAIL_HOST, settings.EMAIL_PORT, timeout=3) as server:
            server.noop()
    except (smtplib.SMTPException, OSError) as error:
        return f"cannot be reached: {type(error).__name__}"
    return "ok"
