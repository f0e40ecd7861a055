"""The API: one router for each room, errors as RFC 9457 problem details."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import BaseModel

from core.conditions import Group
from core.route_document import RouteDocument
from core.sequences.document import SequenceDocument
from server.audiences.api import router as audiences
from server.desk.api import router as desk
from server.intake.api import router as intake
from server.intake.catalogue_api import router as catalogue
from server.intake.connections_api import router as connections
from server.intake.files_api import router as files
from server.intake.people_api import router as whole_people
from server.intake.portable_api import router as portables
from server.intake.replay_api import router as replays
from server.intake.submissions_api import router as submissions
from server.mail.api import router as mail
from server.people.api import router as people
from server.people.suppression_api import router as suppression
from server.sequences.api import router as sequences
from server.snags.api import router as snags
from server.workspaces.api import router as workspaces
from server.workspaces.clock import ClockFixed
from server.workspaces.errors import Refused

api = NinjaAPI(title="Yalla", version="1", docs_url=None, openapi_url="/openapi.json")
api.add_router("", workspaces)
api.add_router("", desk)
for room in (
    intake,
    submissions,
    files,
    connections,
    replays,
    whole_people,
    portables,
    catalogue,
    audiences,
    suppression,
    people,
    sequences,
    mail,
    snags,
):
    api.add_router("/workspaces/{workspace}", room)


def problem(status: int, title: str, errors: list[dict[str, Any]] | None = None) -> HttpResponse:
    """An error as RFC 9457 has it; `errors` name places in what was sent."""
    body = {"type": "about:blank", "title": title, "status": status, "errors": errors or []}
    return JsonResponse(body, status=status, content_type="application/problem+json")


@api.exception_handler(Refused)
def on_refused(request: HttpRequest, error: Refused) -> HttpResponse:
    return problem(error.status, error.title, [one.model_dump() for one in error.problems])


@api.exception_handler(ClockFixed)
def on_clock_fixed(request: HttpRequest, error: ClockFixed) -> HttpResponse:
    return problem(409, "The time can be moved in the demo and in tests only.")


@api.exception_handler(AuthenticationError)
def on_nobody(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return problem(401, "Sign in first.")


@api.exception_handler(ValidationError)
def on_invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    errors = [
        {
            "code": str(one.get("type", "invalid")),
            "place": ".".join(map(str, one.get("loc", ())[2:])),
            "sentence": str(one.get("msg", "This cannot be read.")),
            "fix": "",
        }
        for one in error.errors
    ]
    return problem(422, "Something that was sent cannot be read.", errors)


@api.exception_handler(HttpError)
def on_http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    return problem(error.status_code, str(error))


@api.exception_handler(Http404)
def on_missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return problem(404, "There is nothing here.")


@api.get("/schemas/{name}.json", tags=["schemas"], response=dict[str, Any])
def schema(request: HttpRequest, name: str) -> Any:
    """The JSON Schema of a document."""
    documents: dict[str, type[BaseModel]] = {
        "route": RouteDocument,
        "sequence": SequenceDocument,
        "condition": Group,
    }
    if name not in documents:
        return problem(404, "There is no such schema.")
    return JsonResponse(documents[name].model_json_schema())
