"""The endpoints that every document with a draft and revisions has: save, turn on, discard, look at a
revision, go back to it, pause and resume. Each kind of document says how, and what it looks like."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from ninja import Path, Router

from .auth import InPath, MemberRequest, find
from .documents import revision_numbered
from .schemas import BasedOn, TurnOnIn


@dataclass(frozen=True)
class DocumentKind:
    """A kind of document, and what can be done with it."""

    name: str
    """As it stands in the path; its plural has an s."""
    model: type[Any]
    out: type[Any]
    """What is answered with: `shown` makes it of a row."""
    shown: Callable[[Any], Any]
    draft_in: type[Any]
    """A schema with `document` and `based_on`."""
    revision_out: type[Any]
    """`revision_shown` makes it of a row, a revision and the one before it."""
    revision_shown: Callable[[Any, Any, Any], Any]
    save: Callable[..., Any]
    turn_on: Callable[..., Any]
    discard: Callable[..., Any]
    go_back: Callable[..., Any]
    pause: Callable[[Any], Any]
    resume: Callable[[Any], Any]


def add_endpoints(router: Router, kind: DocumentKind) -> None:
    """Add the endpoints of a kind of document."""
    at = f"/{kind.name}s/{{{kind.name}}}"
    in_path: Any = Annotated[UUID, Path(alias=kind.name)]
    draft_in: Any = kind.draft_in

    def one(request: MemberRequest, pk: UUID) -> Any:
        return find(kind.model, request, pk, kind.name)

    def named(what: str, response: type[Any] = kind.out) -> dict[str, Any]:
        return {"response": response, "operation_id": f"{kind.name}_{what}"}

    @router.put(f"{at}/draft", **named("put_draft"))
    def put_draft(request: MemberRequest, workspace: InPath, pk: in_path, body: draft_in) -> Any:
        row = one(request, pk)
        kind.save(row, body.document, body.based_on, request.member)
        return kind.shown(row)

    @router.post(f"{at}/turn-on", **named("turn_on"))
    def post_turn_on(request: MemberRequest, workspace: InPath, pk: in_path, body: TurnOnIn) -> Any:
        row = one(request, pk)
        kind.turn_on(row, request.member, body.note, body.based_on)
        return kind.shown(row)

    @router.post(f"{at}/discard", **named("discard"))
    def post_discard(request: MemberRequest, workspace: InPath, pk: in_path, body: BasedOn) -> Any:
        row = one(request, pk)
        kind.discard(row, request.member, body.based_on)
        return kind.shown(row)

    @router.get(f"{at}/revisions/{{number}}", **named("revision", kind.revision_out))
    def get_revision(request: MemberRequest, workspace: InPath, pk: in_path, number: int) -> Any:
        row = one(request, pk)
        return kind.revision_shown(row, *revision_numbered(row.revisions.all(), number))

    @router.post(f"{at}/revisions/{{number}}/go-back", **named("go_back"))
    def post_go_back(
        request: MemberRequest, workspace: InPath, pk: in_path, number: int, body: BasedOn
    ) -> Any:
        row = one(request, pk)
        kind.go_back(row, number, request.member, body.based_on)
        return kind.shown(row)

    @router.post(f"{at}/pause", **named("pause"))
    def post_pause(request: MemberRequest, workspace: InPath, pk: in_path) -> Any:
        row = one(request, pk)
        kind.pause(row)
        return kind.shown(row)

    @router.post(f"{at}/resume", **named("resume"))
    def post_resume(request: MemberRequest, workspace: InPath, pk: in_path) -> Any:
        row = one(request, pk)
        kind.resume(row)
        return kind.shown(row)
