"""The trails of people as a replay reads them, in few statements."""

from collections.abc import Iterable
from datetime import datetime
from uuid import UUID

from django.db.models import TextField
from django.db.models.functions import Cast

from core.history import Changed, Done, Scored, Trail
from core.values import Kept
from server.mail.models import Send
from server.people.models import Fact
from server.services.models import Handoff
from server.workspaces.among import among
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

_KINDS = ("field", "tag", "membership", "score", "event", "task", "told", "entered")


def trails_of(workspace: Workspace, people: Iterable[UUID]) -> dict[UUID, Trail]:
    """The trails of these people, by their ids."""
    ids = list(people)
    facts = (
        Fact.objects.of(workspace)
        .filter(among("subscriber", ids), kind__in=_KINDS)
        .order_by("at", "pk")
        .values_list(
            "subscriber_id",
            "kind",
            "at",
            "what",
            Cast("by_submission", TextField()),
            Cast("by_replay", TextField()),
        )
    )
    changes: dict[UUID, list[Changed]] = {}
    scored: dict[UUID, list[Scored]] = {}
    done: dict[UUID, list[Done]] = {}
    for person, kind, at, what, submission, replay in facts:
        match kind:
            case "field" | "tag" | "membership":
                change = _changed(kind, at, what, submission, replay)
                changes.setdefault(person, []).append(change)
            case "score":
                by = int(what["after"]) - int(what["before"])
                scored.setdefault(person, []).append(Scored(by, submission, replay))
            case _:
                mark = _mark(kind, what)
                done.setdefault(person, []).append(Done(mark, submission, replay))
    handoffs = Handoff.objects.of(workspace).filter(among("subscriber", ids)).exclude(line="")
    for person, line, submission, replay in handoffs.values_list(
        "subscriber_id",
        "line",
        Cast("by_submission", TextField()),
        Cast("by_replay", TextField()),
    ):
        done.setdefault(person, []).append(Done(f"handoff/{line}", submission, replay))
    messages: dict[UUID, set[str]] = {}
    sends = Send.objects.of(workspace).filter(among("subscriber", ids)).exclude(state="withdrawn")
    for person, message in sends.values_list("subscriber_id", "message_id"):
        messages.setdefault(person, set()).add(str(message))
    return {
        person: Trail(
            changes=tuple(changes.get(person, ())),
            scored=tuple(scored.get(person, ())),
            done=tuple(done.get(person, ())),
            messages=frozenset(messages.get(person, ())),
        )
        for person in ids
    }


def _changed(
    kind: str, at: datetime, what: Json, submission: str | None, replay: str | None
) -> Changed:
    match kind:
        case "field":
            before, after = _kept(what.get("before")), _kept(what.get("after"))
            return Changed(("field", what.get("key", "")), at, before, after, submission, replay)
        case "tag":
            removed = bool(what.get("removed"))
            thing = what.get("id", "")
            return Changed(("tag", thing), at, removed, not removed, submission, replay)
        case _:
            states = what.get("before", "none"), what.get("after", "none")
            return Changed(("list", what.get("id", "")), at, *states, submission, replay)


def _kept(value: Kept | list[str] | None) -> Kept | None:
    return tuple(value) if isinstance(value, list) else value


def _mark(kind: str, what: Json) -> str:
    """As `core.replay.mark` names it."""
    match kind:
        case "event":
            return f"event/{what.get('event', '')}"
        case "task":
            return f"task/{what.get('title', '')}"
        case "entered":
            return f"entered/{what.get('id', '')}"
        case _:
            return "told"
