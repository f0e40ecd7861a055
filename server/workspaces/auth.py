"""Who calls the API: a signed-in member of the workspace in the path."""

from typing import TypeVar, cast

from django.http import HttpRequest
from ninja import Path
from ninja.security import APIKeyCookie

from .errors import Forbidden, NotFound
from .history import act_for
from .models import Member, Role, User, Workspace
from .scoping import WorkspaceRow

InPath = Path[str]
"""The slug of the workspace, which stands in the path before that of the room."""


class MemberRequest(HttpRequest):
    """A request after `MemberAuth`."""

    member: Member
    workspace: Workspace
    only_reads: bool


class UserAuth(APIKeyCookie):
    """Somebody who is signed in (session cookie and CSRF token)."""

    param_name = "sessionid"

    def authenticate(self, request: HttpRequest, key: str | None) -> User | None:
        return request.user if request.user.is_authenticated else None


class MemberAuth(UserAuth):
    """A member of the workspace in the path; anybody else finds nothing there.

    Readers may read; where `reads` is set, also what is asked by POST and changes nothing, unless it is
    for `editors` alone.
    """

    def __init__(self, *, reads: bool = False, editors: bool = False) -> None:
        self.reads = reads
        self.for_readers = reads and not editors
        super().__init__()

    def authenticate(self, request: HttpRequest, key: str | None) -> User | None:
        user = super().authenticate(request, key)
        if user is None:
            return None
        slug = request.resolver_match.kwargs["workspace"] if request.resolver_match else ""
        member = (
            Member.objects.select_related("workspace", "user")
            .filter(user=user, workspace__slug=slug)
            .first()
        )
        if member is None:
            raise NotFound("There is no such workspace, or you are not a member of it.")
        if member.role == Role.READER and request.method != "GET" and not self.for_readers:
            raise Forbidden("You can read this workspace, but not change it. Ask an owner of it.")
        scoped = cast(MemberRequest, request)
        scoped.member, scoped.workspace, scoped.only_reads = member, member.workspace, self.reads
        act_for(member)
        return user


signed_in = UserAuth()
member = MemberAuth()
member_reads = MemberAuth(reads=True)
editor_reads = MemberAuth(reads=True, editors=True)
"""For what costs much and prepares a change."""


R = TypeVar("R", bound=WorkspaceRow)


def find(model: type[R], request: HttpRequest, pk: object, what: str) -> R:
    """The row of the caller's workspace, or NotFound: the one way from an id to a row."""
    row: R | None = model.objects.of(cast(MemberRequest, request).workspace).filter(pk=pk).first()
    if row is None:
        raise NotFound(f"There is no such {what} in this workspace.")
    row.workspace = cast(MemberRequest, request).workspace
    return row
