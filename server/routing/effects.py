"""What a decision sets going besides the person: sequences, messages, notices to members."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import datetime
from uuid import UUID

from core.deciding import (
    AddTag,
    AskToConfirm,
    ChangeAddress,
    Decision,
    Effect,
    EnterSequence,
    Erase,
    Handoff,
    LeaveSequence,
    Send,
    Subscribe,
    TellMembers,
)
from server.mail.confirming import Asking, ask_to_confirm
from server.mail.outbox import Outbox
from server.mail.own_requests import ask
from server.people.actions import tags_by_name
from server.people.models import OwnRequest, Subscriber
from server.sequences.entering import enter_all, leave_all, leave_sequences_of_lists
from server.sequences.step_effects import Entering
from server.services.outbox import Handoffs
from server.sources.models import Source
from server.submissions.models import Submission
from server.submissions.receiving import everything_of
from server.workspaces import clock
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_each

from .jobs import CHANGE_ADDRESS, ERASE, TELL_MEMBER


def with_tags_made(workspace: Workspace, decisions: Sequence[Decision]) -> list[Decision]:
    """The decisions with ids for tags that answers name and that did not exist yet.

    All of a batch at once, since two batches that made them one by one would wait for each other.
    """
    made = tag_ids(workspace, [one for decision in decisions for one in decision.effects])
    if not made:
        return list(decisions)
    return [replace(decision, effects=with_ids(decision.effects, made)) for decision in decisions]


def _answers_for(
    submission: Submission, effect: Handoff, sources: dict[UUID, Source]
) -> list[list[str]]:
    """The answers that go along to a service; of what is known besides, the IP address for one, only what
    it asks for. `sources`: those that were looked up before."""
    asked = {one for one in effect.handover.questions if one.startswith("@")}
    if not asked:
        return submission.answers
    if submission.source_id not in sources:
        rows = Source.everywhere.select_related("workspace")
        sources[submission.source_id] = rows.get(pk=submission.source_id)
    named = everything_of(submission, sources[submission.source_id])[len(submission.answers) :]
    return [*submission.answers, *([name, text] for name, text in named if name in asked)]


def tag_ids(workspace: Workspace, effects: Iterable[Effect]) -> dict[str, str]:
    """Ids of the tags that did not exist yet, made now, by their names."""
    missing = {one.tag for one in effects if isinstance(one, AddTag) and one.tag == one.name}
    return tags_by_name(workspace, missing) if missing else {}


def with_ids(effects: Sequence[Effect], made: dict[str, str]) -> tuple[Effect, ...]:
    """The effects with the ids of the tags that were `made`, by their names."""
    return tuple(
        replace(one, tag=made[one.tag]) if isinstance(one, AddTag) and one.tag in made else one
        for one in effects
    )


Followed = tuple[Submission, Subscriber, Sequence[Effect]]
"""A submission, its person as stored, and what was decided."""


def carry_on(workspace: Workspace, followed: Sequence[Followed], at: datetime) -> None:
    """What effects set going besides the people: in the caller's transaction, once the people are
    stored, and in few statements, however many they are."""
    entering: list[Entering] = []
    leaving: list[tuple[Subscriber, LeaveSequence]] = []
    left: list[tuple[Subscriber, str]] = []
    asking: list[Asking] = []
    told: list[dict[str, str]] = []
    erased: list[dict[str, str]] = []
    outbox = Outbox()
    handoffs = Handoffs()
    sources: dict[UUID, Source] = {}
    for submission, subscriber, effects in followed:
        for effect in effects:
            match effect:
                case EnterSequence():
                    entering.append(Entering(subscriber, effect, submission.answers))
                case LeaveSequence():
                    leaving.append((subscriber, effect))
                case Subscribe(to="unsubscribed" | "none"):
                    left.append((subscriber, effect.list))
                case AskToConfirm():
                    asking.append(Asking(subscriber, effect.list, effect.because))
                case Send():
                    outbox.add(
                        subscriber,
                        effect.message,
                        effect.list,
                        f"route/{submission.pk}/{effect.line}",
                        effect.because,
                        at,
                        act=effect.act,
                        answers=submission.answers,
                    )
                case Handoff():
                    origin = f"route/{submission.pk}/{effect.line}"
                    handoffs.add(
                        subscriber, effect, origin, at, _answers_for(submission, effect, sources)
                    )
                case ChangeAddress():
                    _change_address(subscriber, effect)
                case Erase(asks=True):
                    ask(subscriber, OwnRequest.Kind.ERASE, effect.because)
                case Erase():
                    erased.append({"person_id": str(subscriber.pk)})
                case TellMembers():
                    told += [
                        {
                            "submission_id": str(submission.pk),
                            "person_id": str(subscriber.pk),
                            "member_id": member,
                        }
                        for member in effect.members
                    ]
    if entering:
        enter_all(workspace, entering, at)
    if leaving:
        leave_all(workspace, leaving, at)
    leave_sequences_of_lists(workspace, left)
    ask_to_confirm(workspace, asking, at)
    outbox.write()
    handoffs.write()
    defer_each(ERASE, erased)
    defer_each(TELL_MEMBER, told)


def _change_address(subscriber: Subscriber, effect: ChangeAddress) -> None:
    """Once this transaction is over; of a public form only when both addresses agree."""
    if effect.asks:
        kind = OwnRequest.Kind.ADDRESS
        ask(subscriber, kind, effect.because, new_address=effect.after)
        return
    row = OwnRequest.everywhere.create(
        workspace_id=subscriber.workspace_id,
        subscriber=subscriber,
        kind=OwnRequest.Kind.ADDRESS,
        to=effect.after,
        new_address=effect.after,
        asked_at=clock.now(subscriber.workspace),
        because=effect.because.as_json(),
    )
    CHANGE_ADDRESS.defer(request_id=str(row.pk))
