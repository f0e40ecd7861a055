"""The API: one router for each room, errors as RFC 9457 problem details."""

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.openapi.schema import OpenAPISchema
from ninja.parser import Parser
from pydantic import BaseModel

from core.conditions import Group
from core.deciding import RouteDocument
from core.documents import Problem, first_unclean, invalid_in_words
from core.sequences import SequenceDocument
from core.services import ServiceDescription
from server.audiences.api import router as conditions
from server.audiences.groups_api import router as groups
from server.audiences.sheet_api import router as audiences
from server.broadcasts.api import router as broadcasts
from server.connections.api import router as services
from server.connections.handoffs_api import router as handoffs
from server.desk.api import router as desk
from server.doors.api import router as doors
from server.forms.api import router as forms
from server.imports.api import router as files
from server.imports.sheets_api import router as sheets
from server.inbound.api import router as mailboxes
from server.mail.api import router as mail
from server.mail.settings_api import router as mail_settings
from server.notices.api import router as notices
from server.people.api import router as people
from server.people.suppression_api import router as suppression
from server.profiles.api import router as whole_people
from server.replays.api import router as replays
from server.routes.api import router as routes
from server.routes.catalogue_api import router as catalogue
from server.routing.api import router as routing
from server.sequences.api import router as sequences
from server.snags.api import router as snags
from server.sources.portable_api import router as portables
from server.sources.things_api import router as things
from server.stream.api import router as stream
from server.submissions.api import router as submissions
from server.webhooks.api import router as webhooks
from server.workspaces.api import router as workspaces
from server.workspaces.clock import ClockFixed
from server.workspaces.errors import Refused
from server.workspaces.shapes import Json

from .edge import unkeepable
from .problems import problem

PROBLEM: Json = {
    "type": "object",
    "title": "Problem details (RFC 9457)",
    "properties": {
        "type": {"type": "string"},
        "title": {"type": "string"},
        "status": {"type": "integer"},
        "errors": {
            "type": "array",
            "items": {
                "type": "object",
                "properties": {
                    name: {"type": "string"} for name in ("code", "place", "sentence", "fix")
                },
            },
        },
    },
    "required": ["type", "title", "status", "errors"],
}
_ERRORS = {
    400: "The request cannot be read.",
    401: "Nobody is signed in.",
    403: "The member's role does not allow it, or the token of the page is missing.",
    404: "It is not there, or belongs to another workspace.",
    405: "Nothing answers this method here.",
    409: "Somebody else changed it in the meantime.",
    413: "The body is larger than is taken.",
    422: "Something that was sent is wrong; the errors say what, where, and what to do.",
    429: "Too many requests; wait.",
    503: "The database cannot be reached; try again in a moment.",
}


class _Parser(Parser):
    """Bodies whose texts can be kept."""

    def parse_body(self, request: HttpRequest) -> Json:
        """The body as JSON."""
        data = super().parse_body(request)
        place = first_unclean(data)
        if place is not None:
            raise Refused(
                "Something that was sent cannot be kept.", (Problem(**unkeepable(place)),)
            )
        return data


def too_large(request: HttpRequest) -> Refused:
    """What is said of a body beyond all documents: how large it is, and how large one may be."""
    size = int(request.META.get("CONTENT_LENGTH") or 0)
    most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
    sentence = f"This holds {size / 2**20:.1f} MB; at most {most / 2**20:.0f} MB are taken."
    fix = "Shorten its longest texts, or make two of it."
    problem = Problem(code="too_large", place="body", sentence=sentence, fix=fix)
    return Refused(sentence, (problem,), status=413)


class _API(NinjaAPI):
    """The API, whose description names the errors of each operation."""

    def get_openapi_schema(
        self, *, path_prefix: str | None = None, path_params: Json | None = None
    ) -> OpenAPISchema:
        """The description, every operation with the errors that it can answer."""
        schema = super().get_openapi_schema(path_prefix=path_prefix, path_params=path_params)
        schema.setdefault("components", {}).setdefault("schemas", {})["ProblemDetails"] = PROBLEM
        content = {
            "application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemDetails"}}
        }
        schema["components"]["responses"] = {
            f"Problem{status}": {"description": description, "content": content}
            for status, description in _ERRORS.items()
        }
        for operations in schema["paths"].values():
            for operation in operations.values():
                for status in _ERRORS:
                    answer = {"$ref": f"#/components/responses/Problem{status}"}
                    operation["responses"].setdefault(status, answer)
        return schema


api = _API(
    title="Yalla",
    version="1",
    docs_url=None,
    openapi_url="/openapi.json",
    parser=_Parser(),
)
api.add_router("", workspaces)
api.add_router("", desk)
for room in (
    stream,
    routes,
    submissions,
    routing,
    files,
    forms,
    webhooks,
    sheets,
    replays,
    things,
    whole_people,
    portables,
    catalogue,
    conditions,
    audiences,
    groups,
    suppression,
    broadcasts,
    mail_settings,
    mailboxes,
    people,
    sequences,
    doors,
    mail,
    services,
    handoffs,
    snags,
    notices,
):
    api.add_router("/workspaces/{workspace}", room)


@api.exception_handler(Refused)
def on_refused(request: HttpRequest, error: Refused) -> HttpResponse:
    return problem(error.status, error.title, [one.model_dump() for one in error.problems])


@api.exception_handler(RequestDataTooBig)
def on_too_large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    return on_refused(request, too_large(request))


@api.exception_handler(ClockFixed)
def on_clock_fixed(request: HttpRequest, error: ClockFixed) -> HttpResponse:
    return problem(409, "The time can be moved in the demo and in tests only.")


@api.exception_handler(AuthenticationError)
def on_nobody(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return problem(401, "Sign in first.")


@api.exception_handler(ValidationError)
def on_invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    if any(tuple(one.get("loc", ()))[:1] == ("path",) for one in error.errors):
        return problem(404, "There is nothing at this address.")
    errors = []
    for one in error.errors:
        sentence, fix = invalid_in_words(one)
        place = ".".join(map(str, one.get("loc", ())[2:]))
        code = str(one.get("type", "invalid"))
        errors.append({"code": code, "place": place, "sentence": sentence, "fix": fix})
    return problem(422, "Something that was sent cannot be read.", errors)


@api.exception_handler(HttpError)
def on_http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    if isinstance(error.__cause__, Refused):
        return on_refused(request, error.__cause__)
    return problem(error.status_code, str(error))


@api.exception_handler(Http404)
def on_missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return problem(404, "There is nothing here.")


@api.get("/schemas/{name}.json", tags=["schemas"], response=Json)
def schema(request: HttpRequest, name: str) -> object:
    """The JSON Schema of a document."""
    documents: dict[str, type[BaseModel]] = {
        "route": RouteDocument,
        "sequence": SequenceDocument,
        "condition": Group,
        "service": ServiceDescription,
    }
    if name not in documents:
        return problem(404, "There is no such schema.")
    return JsonResponse(documents[name].model_json_schema())
