"""The emails to members, each of one kind of notice."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from uuid import UUID

from django.conf import settings
from django.template.loader import render_to_string

from server.mail.compose import notice
from server.mail.models import Message
from server.sequences.models import Sequence as SequenceRow
from server.services.models import Service
from server.snags.attention import KINDS
from server.snags.models import Snag
from server.sources.models import Source
from server.workspaces import clock
from server.workspaces.models import HistoryEntry, Member, Workspace

from .models import Notice

_MODELS = {"service": Service, "sequence": SequenceRow, "source": Source, "message": Message}
_MOST = 20


@dataclass(frozen=True)
class Line:
    """What happened, and where it can be looked at."""

    about: str
    sentence: str
    at: str


def send(member_id: str, notices: Sequence[str]) -> None:
    """Tell one member, who is still one of the workspace and still wants it."""
    rows = list(Notice.everywhere.filter(pk__in=notices).order_by("at", "pk"))
    member = Member.objects.filter(pk=member_id).select_related("workspace", "user").first()
    if not rows or member is None or rows[0].kind not in member.wants:
        return
    workspace = member.workspace
    rows = [one for one in rows if one.workspace_id == workspace.pk]
    kind = rows[0].kind if rows else ""
    lines = _LINES[kind](workspace, rows) if kind else []
    if not lines or not workspace.sender_address:
        return
    context = {
        "lines": lines[:_MOST],
        "more": max(0, len(lines) - _MOST),
        "workspace": workspace.name,
        "settings_at": f"{_home(workspace)}/settings",
    }
    notice(
        workspace.sender_name,
        workspace.sender_address,
        member.user.email,
        _subject(kind, lines),
        clock.now(workspace),
        render_to_string("notices/notice.txt", context),
        render_to_string("notices/notice.html", context),
    ).send()


def _home(workspace: Workspace) -> str:
    return f"{settings.PUBLIC_ADDRESS}/w/{workspace.slug}"


def _place(workspace: Workspace, kind: str, pk: str) -> str:
    return f"{_home(workspace)}/{kind}s/{pk}" if kind in _MODELS else f"{_home(workspace)}/snags"


def _names(workspace: Workspace, wanted: Iterable[tuple[str, str]]) -> dict[tuple[str, str], str]:
    """Names of things by their kind and id."""
    found: dict[tuple[str, str], str] = {}
    by_kind: dict[str, set[str]] = {}
    for kind, pk in wanted:
        by_kind.setdefault(kind, set()).add(pk)
    for kind, ids in by_kind.items():
        if kind in _MODELS:
            rows = _MODELS[kind].objects.of(workspace).filter(pk__in=ids)  # type: ignore[attr-defined]
            found |= {(kind, str(pk)): name for pk, name in rows.values_list("pk", "name")}
    return found


def _of_snags(workspace: Workspace, rows: Sequence[Notice]) -> list[Line]:
    snags = Snag.objects.of(workspace).filter(
        pk__in=[UUID(one.about) for one in rows], closed_at=None
    )
    placed = []
    for one in snags.order_by("first_at", "pk"):
        kind = next((kind for kind in KINDS if one.place.get(kind)), "")
        placed.append((one, (kind, str(one.place.get(kind, "")))))
    names = _names(workspace, (thing for _, thing in placed))
    return [
        Line(
            names.get(thing, workspace.name),
            f"{one.sentence} {one.fix}".strip()
            + (f" ({one.times} times)" if one.times > 1 else ""),
            _place(workspace, *thing),
        )
        for one, thing in placed
    ]


def _of_changes(workspace: Workspace, rows: Sequence[Notice]) -> list[Line]:
    entries = HistoryEntry.objects.of(workspace).filter(pk__in=[UUID(one.about) for one in rows])
    found = []
    for one in entries.order_by("at", "pk"):
        kind, pk = next(iter(one.place.items()), ("", ""))
        found.append(Line(one.member_name, f"{one.sentence}.", _place(workspace, kind, pk)))
    return found


def _of_many(workspace: Workspace, rows: Sequence[Notice]) -> list[Line]:
    found = []
    names = _names(workspace, (("sequence", one.about.partition("/")[0]) for one in rows))
    for one in rows:
        pk, what, _ = one.about.split("/")
        if ("sequence", pk) in names:
            sentence = f"{one.count:,} people {what} it today so far."
            found.append(Line(names["sequence", pk], sentence, _place(workspace, "sequence", pk)))
    return found


_LINES = {"attention": _of_snags, "turned_on": _of_changes, "many": _of_many}


def _subject(kind: str, lines: Sequence[Line]) -> str:
    names = list(dict.fromkeys(one.about for one in lines))
    match kind:
        case "attention" if len(names) == 1:
            return f"“{names[0]}” needs attention"
        case "attention":
            return f"{len(names)} things need attention"
        case "turned_on" if len(lines) == 1:
            return f"{lines[0].about} {lines[0].sentence.rstrip('.')}"
        case "turned_on":
            return f"{len(lines)} changes were turned on"
        case _ if len(names) == 1:
            return f"“{names[0]}”: {lines[0].sentence.rstrip('.')}"
        case _:
            return "Many people today"
