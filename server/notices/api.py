"""What a member is told of by email."""

from typing import Literal

from ninja import Router, Schema

from server.workspaces.auth import InPath, MemberRequest, member, member_reads

router = Router(tags=["notices"])


class NoticeSettings(Schema):
    """The kinds of notices that the caller wants."""

    kinds: list[Literal["attention", "turned_on", "many"]]


class NoticeSettingsOut(NoticeSettings):
    address: str
    """Where they go."""


@router.get("/told-of", response=NoticeSettingsOut, auth=member)
def get_notice_settings(request: MemberRequest, workspace: InPath) -> object:
    return _out(request)


@router.put("/told-of", response=NoticeSettingsOut, auth=member_reads)
def put_notice_settings(request: MemberRequest, workspace: InPath, body: NoticeSettings) -> object:
    """One's own choice, whatever one's role; no change of the workspace."""
    request.member.told_of = list(dict.fromkeys(body.kinds))
    request.member.save(update_fields=["told_of"])
    return _out(request)


def _out(request: MemberRequest) -> NoticeSettingsOut:
    return NoticeSettingsOut.model_validate(
        {"kinds": request.member.wants, "address": request.member.user.email}
    )
