"""What is answered while the database is away: at once, in a sentence, and to try again."""

from collections.abc import Callable

import structlog
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.template.loader import render_to_string
from django.utils import translation
from django.utils.translation import gettext as _
from psycopg_pool import PoolTimeout

from server.workspaces.expensive import was_too_slow
from server.workspaces.languages import speaking, spoken

from .problems import problem

log = structlog.get_logger("yalla.config")
RETRY_AFTER = "10"


class Away:
    """Middleware: 503 (RFC 9110 15.6.4) where the database does not answer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """An answer, if the error is that the database is away."""
        if was_too_slow(error):
            log.error("statement too slow", path=request.path)
            return slow(request)
        if not is_away(error):
            return None
        log.error("database away", error=type(error).__name__)
        return away(request)


def is_away(error: BaseException | None) -> bool:
    """Whether an error says that the database cannot be reached, or was lost on the way."""
    if isinstance(error, PoolTimeout | InterfaceError):
        return True
    if isinstance(error, OperationalError):
        # A statement that PostgreSQL itself ended has a code; one without was never answered.
        state = getattr(error.__cause__, "sqlstate", None)
        return state is None or state.startswith(("08", "57P"))
    return False


def slow(request: HttpRequest) -> HttpResponse:
    """The answer where one statement took longer than it may: the database is there."""
    if request.path.startswith("/api/"):
        sentence = (
            "This took longer than it may, so it was stopped. Ask for less, or try again later."
        )
        response = problem(503, sentence)
        response["Retry-After"] = RETRY_AFTER
        return response
    return away(request)


def away(request: HttpRequest) -> HttpResponse:
    """The answer: a page for visitors, problem details for the API, a line for scripts."""
    tag = translation.get_language_from_request(request)
    with speaking(tag):
        sentence = _("This does not work right now, and nothing was kept. Please try again soon.")
        page = render_to_string("away.html", {"sentence": sentence, **spoken(tag)})
    response: HttpResponse
    if request.path.startswith("/api/"):
        response = problem(503, "The database cannot be reached. Try again in a moment.")
    elif request.path.startswith(("/hook/", "/hear/")) or "application/json" in request.headers.get(
        "Accept", ""
    ):
        response = JsonResponse({"title": sentence}, status=503)
    else:
        response = HttpResponse(page, status=503)
    response["Retry-After"] = RETRY_AFTER
    if request.headers.get("Origin") and request.path.startswith("/f/"):
        response["Access-Control-Allow-Origin"] = "*"
    return response
