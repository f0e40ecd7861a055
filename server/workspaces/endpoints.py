"""Endpoints that several kinds of rows have alike: acts on one row (pause, cancel, run), and what every
document with a draft and revisions has. Each kind says how, and what it looks like."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from ninja import Path, Router, Schema
from pydantic import BaseModel

from .auth import InPath, MemberRequest, find, member_reads
from .documents import revision_numbered
from .schemas import BasedOn, TurnOnIn
from .scoping import WorkspaceRow
from .shapes import Json

Act = Callable[[Any], object]
"""Takes the row of a kind."""
Find = Callable[[MemberRequest, UUID], Any]


def add_acts(
    router: Router,
    name: str,
    find_row: Find,
    out: type[Schema],
    shown: Act,
    acts: Mapping[str, Act],
) -> None:
    """Add an endpoint for each of `acts`, by the last part of its path; it answers with the row as it
    is then, `shown` as `out`."""
    in_path: Any = Annotated[UUID, Path(alias=name)]

    def add(word: str, act: Act) -> None:
        operation = f"{name}_{word.replace('-', '_')}"
        summary = f"{word.replace('-', ' ').capitalize()} ({name})"

        @router.post(
            f"/{name}s/{{{name}}}/{word}",
            response=out,
            operation_id=operation,
            summary=summary,
        )
        def post_act(request: MemberRequest, workspace: InPath, pk: in_path) -> object:
            row = find_row(request, pk)
            act(row)
            return shown(row)

    for word, act in acts.items():
        add(word, act)


@dataclass(frozen=True)
class DocumentKind:
    """A kind of document, and what can be done with it."""

    name: str
    """As it stands in the path; its plural has an s."""
    model: type[WorkspaceRow]
    out: type[Schema]
    """What is answered with: `shown` makes it of a row."""
    shown: Act
    draft_in: type[Schema]
    """A schema with `document` and `based_on`."""
    turn_on_in: type[TurnOnIn]
    """`TurnOnIn`, or more that `turn_on` takes by name."""
    revision_out: type[Schema]
    """`revision_shown` makes it of a row, a revision and the one before it."""
    revision_shown: Callable[[Any, Any, Any], object]
    save: Callable[..., object]
    turn_on: Callable[..., object]
    discard: Callable[..., object]
    go_back: Callable[..., object]
    document: type[BaseModel]
    differences: Callable[[Any, Any], list[str]]
    """Of a document from what is stored, in sentences."""
    pause: Act | None = None
    resume: Act | None = None
    """None: it has nothing that runs by itself."""


def add_document(router: Router, kind: DocumentKind) -> None:
    """Add the endpoints of a kind of document: save, turn on, discard, look at a revision, go back to
    it, pause and resume."""
    at = f"/{kind.name}s/{{{kind.name}}}"
    in_path: Any = Annotated[UUID, Path(alias=kind.name)]
    draft_in: Any = kind.draft_in
    turn_on_in: Any = kind.turn_on_in
    document: Any = kind.document

    def one(request: MemberRequest, pk: UUID) -> Any:
        return find(kind.model, request, pk, kind.name)

    def named(what: str, response: type[Schema] = kind.out) -> Json:
        return {"response": response, "operation_id": f"{kind.name}_{what}"}

    @router.put(f"{at}/draft", **named("put_draft"))
    def put_draft(request: MemberRequest, workspace: InPath, pk: in_path, body: draft_in) -> object:
        row = one(request, pk)
        kind.save(row, body.document, body.based_on, request.member)
        return kind.shown(row)

    @router.post(
        f"{at}/differences",
        response=list[str],
        operation_id=f"{kind.name}_differences",
        auth=member_reads,
    )
    def post_differences(
        request: MemberRequest, workspace: InPath, pk: in_path, body: document
    ) -> list[str]:
        """What a document has different from what is stored, in sentences."""
        return kind.differences(one(request, pk), body)

    @router.post(f"{at}/turn-on", **named("turn_on"))
    def post_turn_on(
        request: MemberRequest, workspace: InPath, pk: in_path, body: turn_on_in
    ) -> object:
        row = one(request, pk)
        more = {name: one for name, one in body if name not in TurnOnIn.model_fields}
        kind.turn_on(row, request.member, body.note, body.based_on, **more)
        return kind.shown(row)

    @router.post(f"{at}/discard", **named("discard"))
    def post_discard(
        request: MemberRequest, workspace: InPath, pk: in_path, body: BasedOn
    ) -> object:
        row = one(request, pk)
        kind.discard(row, request.member, body.based_on)
        return kind.shown(row)

    @router.get(f"{at}/revisions/{{number}}", **named("revision", kind.revision_out))
    def get_revision(request: MemberRequest, workspace: InPath, pk: in_path, number: int) -> object:
        row = one(request, pk)
        return kind.revision_shown(row, *revision_numbered(row.revisions.all(), number))

    @router.post(f"{at}/revisions/{{number}}/go-back", **named("go_back"))
    def post_go_back(
        request: MemberRequest, workspace: InPath, pk: in_path, number: int, body: BasedOn
    ) -> object:
        row = one(request, pk)
        kind.go_back(row, number, request.member, body.based_on)
        return kind.shown(row)

    acts = {
        word: act
        for word, act in (("pause", kind.pause), ("resume", kind.resume))
        if act is not None
    }
    add_acts(router, kind.name, one, kind.out, kind.shown, acts)
