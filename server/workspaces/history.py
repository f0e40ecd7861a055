"""Who may change what, and the history of every change by a member.

An action marked with `changes` asks for the role of whoever acts before it does anything, and
leaves one entry in the workspace's history, in the transaction of the change itself. Who acts
is set once for each request; workers, people by their links and tests act for nobody.
"""

import inspect
from collections.abc import Callable, Iterator
from contextlib import contextmanager, nullcontext
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import timedelta
from functools import wraps
from typing import ParamSpec, TypeVar

from django.conf import settings
from django.db import transaction
from django.db.models import Model
from django.http import HttpRequest, HttpResponse

from . import clock
from .errors import Forbidden, NotFound
from .models import HistoryEntry, Member, Role, Workspace

EDITORS = (Role.OWNER, Role.EDITOR)
OWNERS = (Role.OWNER,)
_SAME = timedelta(minutes=10)
P = ParamSpec("P")
R = TypeVar("R")


@dataclass
class _Acting:
    """A member at work, and whether an action of theirs is under way, or was."""

    member: Member
    inside: bool = False
    told: bool = False


_acting: ContextVar[_Acting | None] = ContextVar("acting", default=None)


def act_for(member: Member) -> None:
    """From now on, in this request, it is `member` who acts."""
    _acting.set(_Acting(member))


@contextmanager
def acting(member: Member | None) -> Iterator[None]:
    """Let `member` act (None: nobody) for a while."""
    before = _acting.set(_Acting(member) if member else None)
    try:
        yield
    finally:
        _acting.reset(before)


def who_acts() -> Member | None:
    """The member who acts now, if one does."""
    now = _acting.get()
    return now.member if now else None


def changes(
    sentence: str, *, roles: tuple[Role, ...] = EDITORS, whole: bool = True, kind: str = ""
) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """An action that changes the workspace of its first argument (that, or a row of it).

    `sentence` says what the member did ("renamed {row.name} to “{name}”"): with the arguments
    as they were before, and `result`, what the action gave. It holds no personal data, since it
    outlives the person. An action inside another one is part of that. One that is not `whole`
    commits as it goes, since it speaks to the world outside on the way. `kind`: what members can be
    told of (`HistoryEntry.kind`).
    """

    def around(action: Callable[P, R]) -> Callable[P, R]:
        signature = inspect.signature(action)

        @wraps(action)
        def carried(*args: P.args, **kwargs: P.kwargs) -> R:
            now = _acting.get()
            if now is None or now.inside:
                return action(*args, **kwargs)
            bound = signature.bind(*args, **kwargs)
            bound.apply_defaults()
            first = next(iter(bound.arguments.values()))
            workspace = first if isinstance(first, Workspace) else first.workspace
            _allow(now.member, workspace, roles)
            # What is said of the arguments is how they were; the result is known after.
            filled = sentence if "{result" in sentence else sentence.format_map(bound.arguments)
            place = _place(first)
            now.inside = True
            try:
                with transaction.atomic() if whole else nullcontext():
                    result = action(*args, **kwargs)
                    if "{result" in sentence:
                        filled = sentence.format_map({**bound.arguments, "result": result})
                    _note(workspace, now.member, filled, place or _place(result), kind)
            finally:
                now.inside = False
            now.told = True
            return result

        return carried

    return around


def _allow(member: Member, workspace: Workspace, roles: tuple[Role, ...]) -> None:
    if member.workspace_id != workspace.pk:
        raise NotFound("There is no such thing in this workspace.")
    if member.role not in roles:
        who = "Only an owner of the workspace may" if roles == OWNERS else "Your role may not"
        raise Forbidden(f"{who} do this. Ask an owner of it.")


def _place(row: object) -> dict[str, str]:
    """The name of the model and the id, for the way to it."""
    if isinstance(row, Model) and not isinstance(row, Workspace):
        return {row._meta.verbose_name_raw.replace(" ", "_"): str(row.pk)}
    return {}


def _note(
    workspace: Workspace, member: Member, sentence: str, place: dict[str, str], kind: str
) -> None:
    """One entry; the same change again within ten minutes, as drafts are saved, is one with it."""
    now = clock.now(workspace)
    newest = HistoryEntry.objects.of(workspace).order_by("-at", "-pk").first()
    if (
        newest
        and (newest.member_id, newest.sentence, newest.place) == (member.pk, sentence[:500], place)
        and newest.at > now - _SAME
    ):
        newest.at = now
        newest.save(update_fields=["at"])
        return
    HistoryEntry.everywhere.create(
        workspace=workspace,
        at=now,
        member=member,
        member_name=(member.user.name or member.user.email)[:120],
        sentence=sentence[:500],
        kind=kind,
        place=place,
    )


class Middleware:
    """Nobody acts but for the member whom a request is found to come from.

    Under test a change that the history does not tell of is an error.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        before = _acting.set(None)
        try:
            response = self.get_response(request)
            now = _acting.get()
            if settings.CHECKS_HISTORY and now and not now.told and _changed(request, response):
                raise RuntimeError(f"{request.method} {request.path} left no history")
            return response
        finally:
            _acting.reset(before)


def _changed(request: HttpRequest, response: HttpResponse) -> bool:
    reads = getattr(request, "only_reads", False)
    return request.method not in ("GET", "HEAD") and response.status_code < 300 and not reads
