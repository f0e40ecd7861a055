"""What a member is told of by email."""

from typing import Any, Literal

from ninja import Router, Schema

from server.workspaces.auth import InPath, MemberRequest, member, member_reads

router = Router(tags=["notices"])


class ToldOf(Schema):
    """The kinds of notices that the caller wants."""

    kinds: list[Literal["attention", "turned_on", "many"]]


class ToldOfOut(ToldOf):
    address: str
    """Where they go."""


@router.get("/told-of", response=ToldOfOut, auth=member)
def told_of(request: MemberRequest, workspace: InPath) -> Any:
    return _out(request)


@router.put("/told-of", response=ToldOfOut, auth=member_reads)
def put_told_of(request: MemberRequest, workspace: InPath, body: ToldOf) -> Any:
    """One's own choice, whatever one's role; no change of the workspace."""
    request.member.told_of = list(dict.fromkeys(body.kinds))
    request.member.save(update_fields=["told_of"])
    return _out(request)


def _out(request: MemberRequest) -> ToldOfOut:
    return ToldOfOut.model_validate(
        {"kinds": request.member.wants, "address": request.member.user.email}
    )
