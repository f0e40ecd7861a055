"""Rename, copy, archive, restore and delete: the same for sources, sequences and messages."""

from uuid import UUID

from ninja import Router, Schema

from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.schemas import Done, NameIn

from .things import MODELS, Kind, Thing, archive, copy, delete, rename, restore, touches

router = Router(tags=["things"], auth=member)


class TouchesOut(Schema):
    """What hangs on it, in sentences, before it is archived or deleted."""

    sentences: list[str]
    deletable: bool
    archived: bool


class MadeOut(Schema):
    id: UUID


def _thing(request: MemberRequest, kind: Kind, thing: UUID) -> Thing:
    return find(MODELS[kind], request, thing, kind)


@router.get("/things/{kind}/{thing}", response=TouchesOut)
def get_touches(request: MemberRequest, workspace: InPath, kind: Kind, thing: UUID) -> TouchesOut:
    row = _thing(request, kind, thing)
    found = touches(row)
    return TouchesOut(
        sentences=list(found.sentences),
        deletable=found.deletable,
        archived=row.archived_at is not None,
    )


@router.post("/things/{kind}/{thing}/rename", response=Done)
def post_rename(
    request: MemberRequest, workspace: InPath, kind: Kind, thing: UUID, body: NameIn
) -> Done:
    rename(_thing(request, kind, thing), body.name)
    return Done(count=1)


@router.post("/things/{kind}/{thing}/copy", response=MadeOut)
def post_copy(
    request: MemberRequest, workspace: InPath, kind: Kind, thing: UUID, body: NameIn
) -> MadeOut:
    return MadeOut(id=copy(_thing(request, kind, thing), body.name, request.member).pk)


@router.post("/things/{kind}/{thing}/archive", response=Done)
def post_archive(request: MemberRequest, workspace: InPath, kind: Kind, thing: UUID) -> Done:
    archive(_thing(request, kind, thing))
    return Done(count=1)


@router.post("/things/{kind}/{thing}/restore", response=Done)
def post_restore(request: MemberRequest, workspace: InPath, kind: Kind, thing: UUID) -> Done:
    restore(_thing(request, kind, thing))
    return Done(count=1)


@router.delete("/things/{kind}/{thing}", response=Done)
def delete_thing(request: MemberRequest, workspace: InPath, kind: Kind, thing: UUID) -> Done:
    delete(_thing(request, kind, thing))
    return Done(count=1)
