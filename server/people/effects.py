"""Entering into the ledger what was decided about a person, always with a because."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from uuid import UUID

from core.deciding import (
    AddTag,
    Decision,
    Effect,
    Event,
    LeaveAllLists,
    Owner,
    RemoveTag,
    Score,
    SetField,
    SetZone,
    Subscribe,
    Task,
    TellMembers,
)
from core.documents import Because, folded
from server.workspaces.causes import caused_by
from server.workspaces.copying import instance, plain
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .ledger import Ledger
from .locks import person_key
from .memberships import membership_in, move_membership
from .models import Fact, Subscriber, Tagging
from .models import Task as TaskRow
from .trail import fact


def apply_decision(
    ledger: Ledger,
    workspace: Workspace,
    subscriber: Subscriber | None,
    decision: Decision,
    submitted: Because,
    context: Json,
    at: datetime,
    *,
    received: datetime | None = None,
    is_test: bool = False,
) -> Subscriber:
    """Enter into the ledger what was decided about a person.

    Sequences are not entered here. `submitted` is the because of the submission itself,
    `context` where it came from, for the evidence, `received` when it was received.
    """
    is_new = subscriber is None
    if subscriber is None:
        assert decision.address is not None
        subscriber = instance(
            Subscriber,
            workspace_id=workspace.pk,
            address=decision.address,
            address_key=person_key(decision.address, is_test),
            added_at=at,
            is_test=is_test,
        )
        subscriber.workspace = workspace
        ledger.new.append(subscriber)
        ledger.facts.append(fact(subscriber, Fact.Kind.ADDED, {}, submitted, at))
    what: Json = {"source": submitted.source_name}
    source = submitted.source_id or ""
    ledger.facts.append(fact(subscriber, Fact.Kind.SUBMITTED, what, submitted, at, source))
    effects, asked_at = decision.effects, received or at
    apply_effects(ledger, subscriber, effects, context, at, is_new=is_new, received=asked_at)
    return subscriber


def apply_effects(
    ledger: Ledger,
    subscriber: Subscriber,
    effects: Sequence[Effect],
    context: Json,
    at: datetime,
    *,
    is_new: bool = False,
    received: datetime | None = None,
) -> None:
    """Enter into the ledger what effects do to a person; `context` is where they come from,
    `received` when the person sent what they follow from."""
    for effect in effects:
        _carry_out(ledger, subscriber, effect, context, at, received or at)
    if is_new or any(isinstance(effect, SetField) for effect in effects):
        index(subscriber)
    changing = (SetField, Score, Owner, LeaveAllLists, SetZone)
    if not is_new and any(isinstance(effect, changing) for effect in effects):
        ledger.change(subscriber)


def _carry_out(
    ledger: Ledger,
    subscriber: Subscriber,
    effect: Effect,
    context: Json,
    at: datetime,
    received: datetime,
) -> None:
    """Enter one effect on a person; sequences, sends and notices are for the rooms above."""

    def note(kind: Fact.Kind, what: Json, about: str = "") -> None:
        ledger.facts.append(fact(subscriber, kind, what, effect.because, at, about))

    match effect:
        case SetField():
            if effect.after in ("", ()):
                subscriber.values.pop(effect.key, None)
            else:
                subscriber.values[effect.key] = effect.after
            note(Fact.Kind.FIELD, field_change(effect))
        case AddTag():
            note(Fact.Kind.TAG, {"tag": effect.name, "id": effect.tag})
            ledger.tag(_tagging(subscriber, effect, at))
        case RemoveTag():
            note(Fact.Kind.TAG, {"tag": effect.name, "id": effect.tag, "removed": True})
            ledger.untag(subscriber, effect.tag)
        case Score():
            subscriber.score = effect.after
            note(Fact.Kind.SCORE, {"before": effect.before, "after": effect.after})
        case Event():
            what: Json = {"event": effect.name}
            if effect.data:
                # Beside it as conditions compare it.
                what["data"] = dict(effect.data)
                what["folded"] = {name: folded(text) for name, text in effect.data.items()}
            note(Fact.Kind.EVENT, what, effect.name[:80])
        case Owner():
            subscriber.owner_id = UUID(effect.member)
            note(Fact.Kind.OWNER, {"member": effect.name})
        case Task():
            note(Fact.Kind.TASK, {"title": effect.title})
            ledger.tasks.append(_task(subscriber, effect, at))
        case TellMembers():
            note(Fact.Kind.TOLD, {"members": list(effect.names)})
        case SetZone():
            subscriber.time_zone = effect.after
            note(Fact.Kind.ZONE, {"before": effect.before, "after": effect.after})
        case LeaveAllLists():
            subscriber.left_all_at = max(received, subscriber.left_all_at or received)
        case Subscribe():
            row = membership_in(ledger, subscriber, effect)
            move_membership(
                ledger,
                row,
                effect.name,
                effect.to,
                effect.because,
                at,
                effect.wording,
                context,
                received=received,
            )


def _task(subscriber: Subscriber, effect: Task, at: datetime) -> TaskRow:
    return TaskRow(
        workspace_id=subscriber.workspace_id,
        subscriber=subscriber,
        title=effect.title,
        member_id=subscriber.owner_id,
        made_at=at,
        due_at=at + timedelta(days=effect.days),
        **caused_by(subscriber.workspace_id, effect.because),
    )


def _tagging(subscriber: Subscriber, effect: AddTag, at: datetime) -> Tagging:
    return plain(Tagging)(
        workspace_id=subscriber.workspace_id,
        subscriber_id=subscriber.pk,
        tag_id=UUID(effect.tag),
        at=at,
        **caused_by(subscriber.workspace_id, effect.because),
    )


def field_change(effect: SetField) -> Json:
    """A change of a field, as the trail has it."""
    return {
        "field": effect.label,
        "key": effect.key,
        "before": effect.before,
        "after": effect.after,
        "shown_before": effect.shown_before,
        "shown": effect.shown,
    }


def index(subscriber: Subscriber) -> None:
    """Set what is made from the values, after they changed: for search and for conditions."""
    names = (subscriber.values.get("first_name"), subscriber.values.get("last_name"))
    subscriber.searched = folded(
        " ".join([subscriber.address, *(str(name) for name in names if name)])
    )
    texts = {**subscriber.values, "email": subscriber.address}
    subscriber.folded = {
        key: folded(value) for key, value in texts.items() if isinstance(value, str) and value
    }
