"""The difference between two revisions of a sequence, in sentences that a reader can check."""

from collections.abc import Iterator

from ..conditions import say
from ..delivering import SendingTimes, weekdays_in_words
from ..documents import changed_lines, other_order
from ..people import Catalogue
from .document import EmailSender, Goal, Lane, Leaving, SequenceDocument
from .doors import AGAIN


def differences(
    before: SequenceDocument, after: SequenceDocument, catalogue: Catalogue
) -> tuple[str, ...]:
    """What is different in `after`, from the top of the sheet down."""
    return tuple(_differences(before, after, catalogue))


def _differences(
    before: SequenceDocument, after: SequenceDocument, catalogue: Catalogue
) -> Iterator[str]:
    if before.list != after.list:
        old, new = (_list(one.list, catalogue) for one in (before, after))
        yield f"its emails belong to {new} (before: {old})"
    yield from changed_lines(
        "door",
        before.doors,
        after.doors,
        lambda door: door.describe(catalogue, after.lane_names),
    )
    if before.again != after.again:
        old, new = (AGAIN[one.again] if one.again else "not decided" for one in (before, after))
        yield f"second entry: {new} (before: {old})"
    old_heads, new_heads = (
        [lane.model_copy(update={"steps": ()}) for lane in one.lanes] for one in (before, after)
    )
    yield from changed_lines("lane", old_heads, new_heads, lambda lane: _head(lane, after))
    old_lanes = {lane.id: lane for lane in before.lanes}
    for lane in after.lanes:
        known = old_lanes.get(lane.id, Lane(id=lane.id))
        where = f"lane {lane.name}, step" if len(after.lanes) > 1 else "step"
        yield from changed_lines(
            where,
            known.steps,
            lane.steps,
            lambda step: step.describe(catalogue, after.lane_names),
            numbered=True,
        )
        if other_order(known.steps, lane.steps):
            yield f"{where.removesuffix('step')}the steps stand in another order"
    yield from changed_lines(
        "goal", before.goals, after.goals, lambda one: goal_in_words(one, catalogue)
    )
    if before.leaving != after.leaving:
        old, new = (leaving_in_words(one.leaving, catalogue) for one in (before, after))
        yield f"leaving: {new} (before: {old})"
    if before.no_broadcasts != after.no_broadcasts:
        yield f"broadcasts {'leave those in it alone' if after.no_broadcasts else 'go to those in it too'}"
    if before.times != after.times:
        old, new = (times_in_words(one.times) for one in (before, after))
        yield f"sending times: {new} (before: {old})"
    if before.sender != after.sender:
        old, new = (sender_in_words(one.sender) for one in (before, after))
        yield f"sender: {new} (before: {old})"
    if before.priority != after.priority:
        yield f"priority: {after.priority} (before: {before.priority})"


def goal_in_words(goal: Goal, catalogue: Catalogue) -> str:
    """bought a telescope: event “bought”, within 90 days"""
    what = f"event “{goal.event}”" if goal.event else "nothing yet"
    if not goal.event and goal.when is not None:
        what = say(goal.when, catalogue)
    parts = f"{goal.name}: {what}" if goal.name else what
    parts += f", within {goal.within_days} days" if goal.within_days else ""
    return f"{parts}, leading back too" if goal.may_lead_back else parts


def leaving_in_words(leaving: Leaving, catalogue: Catalogue) -> str:
    """when has the tag customer; entering ends every other sequence"""
    parts = [f"when {say(leaving.when, catalogue)}"] if leaving.when is not None else []
    if leaving.takes_over == "all":
        parts.append("entering ends every other sequence")
    if leaving.takes_over == "these":
        names = [
            catalogue.sequences[one].name
            if one in catalogue.sequences
            else "a sequence that is gone"
            for one in leaving.these
        ]
        parts.append(f"entering ends {', '.join(names) or 'no sequence'}")
    return "; ".join(parts) or "when they leave the list"


def sender_in_words(sender: EmailSender) -> str:
    """Noor, noor@larkmoor.example, replies to desk@larkmoor.example"""
    reply = f"replies to {sender.reply_to}" if sender.reply_to else ""
    parts = [one for one in (sender.name, sender.address, reply) if one]
    return ", ".join(parts) or "as the list says"


def times_in_words(times: SendingTimes | None) -> str:
    """Monday to Friday, 09:00 to 17:00, not on public holidays (GB)"""
    if times is None:
        return "as the workspace says"
    parts = [weekdays_in_words(times.weekdays) if times.weekdays else "on no day"]
    if times.begins or times.ends:
        begins = f"{times.begins:%H:%M}" if times.begins else "00:00"
        parts.append(f"{begins} to {f'{times.ends:%H:%M}' if times.ends else '24:00'}")
    if times.holidays_of:
        parts.append(f"not on public holidays ({times.holidays_of})")
    quiet = len(times.quiet_dates) + len(times.quiet_yearly)
    if quiet:
        parts.append(f"{quiet} quiet {'date' if quiet == 1 else 'dates'}")
    return "at any time" if times.always else ", ".join(parts)


def _head(lane: Lane, sequence: SequenceDocument) -> str:
    if lane.then.to != "lane":
        return lane.name
    return f"{lane.name}, {lane.then.describe(sequence.lane_names)}"


def _list(key: str | None, catalogue: Catalogue) -> str:
    return catalogue.lists.get(key, "a list that is gone") if key else "no list"
