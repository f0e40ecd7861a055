"""Pre-flight of a sequence: what keeps it from being turned on, and what needs a look."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date

from ..conditions import HappenedTest, leaves
from ..deciding import check_condition
from ..delivering import ALWAYS, Duration, SendingTimes, never_fits
from ..documents import Finding, Problem
from ..messages import Counts
from ..people import Catalogue
from ..values import read_email
from .document import Goal, SequenceDocument
from .doors import ClickDoor, DoorCheck
from .graph import (
    circles_without_time,
    place_of,
    places_reached,
    places_without_end,
    reaches,
)
from .steps import ActStep, SendStep, StepCheck
from .ways import Way


@dataclass(frozen=True)
class ListReaders:
    """How many people a list has, and of how many the time zone is known."""

    people: int
    with_zone: int
    workspace_zone: str
    asks_zone: bool


@dataclass(frozen=True)
class Surroundings:
    """What pre-flight of a sequence knows beside its document."""

    catalogue: Catalogue
    message_findings: Mapping[str, tuple[Finding, ...]]
    """What is wrong with each message, by its id (`check_message`)."""
    sender: str
    postal_address: str
    """What stands in every email as its sender, or an empty text."""
    own_id: str = ""
    """The id of the sequence."""
    times: SendingTimes = ALWAYS
    """The workspace's, for sequences that have none of their own."""
    gap: Duration | None = None
    """What lies between two marketing emails to one person, in the workspace."""
    today: date | None = None
    """None: whether every email finds a time to go is not looked at."""
    started_at: frozenset[str] | None = None
    """The lanes that live rules and sequences start people in; None: it is not known."""
    readers: ListReaders | None = None
    """The people on its list; None: it is not known."""
    counts: Mapping[str, Counts] | None = None
    """What is counted of each message, by its id, and of any under ""; None: it is not known."""


def check_sequence(sequence: SequenceDocument, around: Surroundings) -> tuple[Finding, ...]:
    """Every finding, in the order of the sheet."""
    return tuple(_findings(sequence, around))


def _nothing_unknown(question: str, place: str) -> Iterator[Finding]:
    """Answers are those of whatever submission started the run: none is unknown beforehand."""
    yield from ()


def _findings(sequence: SequenceDocument, around: Surroundings) -> Iterator[Finding]:
    catalogue = around.catalogue
    yield from _sender(sequence)
    if not around.sender and not sequence.sender.address:
        yield Finding(
            code="no_sender",
            place="sender",
            sentence="The workspace has no address to send from.",
            fix="Set the sender in the settings of the workspace.",
        )
    if not around.postal_address.strip():
        # 15 U.S.C. 7704(a)(5)(A)(iii): a valid physical postal address of the sender.
        yield Finding(
            code="no_postal_address",
            place="sender",
            sentence="The workspace has no postal address, which every marketing email has to show.",
            fix="Write it in the settings of the workspace.",
        )
    if sequence.list is None or sequence.list not in catalogue.lists:
        yield Finding(
            code="no_list",
            place="list",
            sentence="It is not said which list these emails belong to.",
            fix="Choose the list: it decides who may get them, and what unsubscribing ends.",
        )
    if not any(isinstance(step, SendStep | ActStep) for step in sequence.steps):
        yield Finding(
            code="nothing_sent",
            place="lanes",
            sentence="No email is sent.",
            fix="Add an email.",
        )
    yield from _second_entry(sequence)
    yield from _doors(sequence, catalogue)
    yield from _entered_by_nobody(sequence, around)
    entrances = set(_entrances(sequence))
    for lane in sequence.lanes:
        for number, step in enumerate(lane.steps):
            at = StepCheck(
                catalogue=catalogue,
                message_findings=around.message_findings,
                before=lane.steps[:number],
                is_last=number == len(lane.steps) - 1
                and lane.then.to != "lane"
                and not sequence.goals,
                is_entrance=lane.id in entrances,
                unknown=_nothing_unknown,
            )
            yield from step.check(at)
            for branch in step.branches():
                yield from _way(sequence, branch.way, step.id)
        yield from _way(sequence, lane.then, f"end-{lane.id}")
    yield from _unasked(sequence)
    yield from _circles(sequence)
    yield from _endless(sequence)
    yield from _out_of_reach(sequence)
    yield from _goals(sequence, catalogue)
    yield from _leaving(sequence, around)
    yield from _not_counted(sequence, around.counts)
    yield from _times(sequence, around)


def _not_counted(
    sequence: SequenceDocument, counts: Mapping[str, Counts] | None
) -> Iterator[Finding]:
    """What looks at clicks or opens of emails in which none are counted."""
    if counts is None:
        return
    for place, what, message in dict.fromkeys(followed(sequence)):
        counted = counts.get(message, counts[""])
        if counted.clicks if what == "clicked" else counted.opens:
            continue
        named = "Clicks" if what == "clicked" else "Opens"
        yield Finding(
            code="not_counted",
            place=place,
            sentence=f"{named} are not counted "
            f"{'in this message' if message else 'in this workspace'}, so this never happens.",
            fix=f"Count {named.lower()} in the settings of mail, or in the message.",
            stops=False,
        )


def followed(sequence: SequenceDocument) -> Iterator[tuple[str, str, str]]:
    """Where clicks and opens are looked at: the place, "clicked" or "opened", and the id of the message,
    empty for any."""
    for door in sequence.doors:
        if isinstance(door, ClickDoor) and door.open:
            yield door.id, "clicked", door.message or ""
    for place, group in sequence.placed_conditions():
        for leaf in leaves(group):
            if isinstance(leaf, HappenedTest) and leaf.what in ("clicked", "opened"):
                yield place, leaf.what, leaf.about


def _times(sequence: SequenceDocument, around: Surroundings) -> Iterator[Finding]:
    """Times that nothing fits, and times by zones that are not known."""
    if sequence.times is not None and not sequence.times.weekdays:
        yield Finding(
            code="never_sends",
            place="times",
            sentence="The sending times name no weekday, so nothing would ever go out.",
            fix="Choose a weekday.",
        )
        return
    times = sequence.times if sequence.times is not None else around.times
    stuck = never_fits(times, around.gap, around.today) if around.today else None
    if stuck is not None:
        yield Finding(
            code="never_sends",
            place="times",
            sentence=f"An email that is due on {stuck:%-d %B %Y} would find no time to go within 60 days: "
            "sending times, quiet dates and the gap between emails leave none.",
            fix="Allow more days, shorten the row of quiet dates, or make the gap shorter.",
        )
    readers = around.readers
    if (
        readers is not None
        and readers.people
        and not readers.with_zone
        and _by_clock(sequence, times)
    ):
        fix = (
            "New people bring their zone along, since forms ask browsers for it."
            if readers.asks_zone
            else "Forms can ask the visitor’s browser for the time zone; it is a setting of the workspace."
        )
        yield Finding(
            code="zones_unknown",
            place="times",
            sentence="Emails go by each person’s own time, and the time zone is known of none of the "
            f"{readers.people:,} people on the list. Until it is, {readers.workspace_zone} counts.",
            fix=fix,
            stops=False,
        )


def _by_clock(sequence: SequenceDocument, times: SendingTimes) -> bool:
    """Whether something in it goes by the clock where the person is."""
    by_clock = any(step.kind in ("wait_time", "wait_date") for step in sequence.steps)
    return by_clock or not times.always


def _entered_by_nobody(sequence: SequenceDocument, around: Surroundings) -> Iterator[Finding]:
    """A sequence that nobody can come into by itself, and doors of forms that no form opens."""
    started = around.started_at
    if started is None:
        return
    first = sequence.lanes[0].id if sequence.lanes else ""
    open_ = [one for one in sequence.doors if one.open]
    by_itself = [one for one in open_ if one.kind not in ("route", "by_hand")]
    if not by_itself and not started and not any(one.kind == "by_hand" for one in open_):
        yield Finding(
            code="no_door",
            place="doors",
            sentence="Nobody comes into this sequence: it has no door that opens, and no form that is on "
            "starts it.",
            fix="Add a door; or add a rule “start a sequence” to a form and turn the form on; or add people "
            "by hand.",
            stops=False,
        )
    for door in open_:
        if door.kind == "route" and (door.lane or first) not in started and (by_itself or started):
            yield Finding(
                code="door_unopened",
                place=door.id,
                sentence="No form that is on leads through this door.",
                fix="Add a rule “start a sequence” to a form and turn the form on, or remove the door.",
                stops=False,
            )


def _sender(sequence: SequenceDocument) -> Iterator[Finding]:
    """Addresses of its own that are none."""
    for address, what in (
        (sequence.sender.address, "sender’s address"),
        (sequence.sender.reply_to, "address for replies"),
    ):
        if address and isinstance(read := read_email(address), Problem):
            yield Finding(
                code="sender",
                place="list",
                sentence=f"The {what} of this sequence, “{address}”, is no address: {read.sentence}",
                fix=read.fix,
            )


def _second_entry(sequence: SequenceDocument) -> Iterator[Finding]:
    """Where something promised is delivered, the one who asks twice has to get an answer."""
    promises = any(isinstance(step, SendStep) and step.at_once for step in sequence.steps)
    if promises and sequence.again is None:
        yield Finding(
            code="second_entry",
            place="again",
            sentence="It is not said what happens when somebody asks a second time. As it is, they "
            "get nothing: once only.",
            fix="Choose: once only (the promised email is not sent again), start over (sent again, "
            "what is queued is withdrawn), or run alongside (sent again, and every email after it "
            "too).",
            stops=False,
        )


def _doors(sequence: SequenceDocument, catalogue: Catalogue) -> Iterator[Finding]:
    at = DoorCheck(catalogue=catalogue, lanes=sequence.lane_names, unknown=_nothing_unknown)
    for door in sequence.doors:
        yield from door.check(at)
        yearly = door.kind == "date" and door.yearly
        if (yearly or door.kind == "schedule") and sequence.again_at(door) == "once_only":
            yield Finding(
                code="comes_once",
                place=door.id,
                sentence="This door opens again and again, and each person comes in once only.",
                fix="Choose “start over” for it, or keep it if once is what you want.",
                stops=False,
            )


def _unasked(sequence: SequenceDocument) -> Iterator[Finding]:
    """A door by which nobody asks for anything, into a lane that begins with something promised."""
    for door in sequence.doors:
        lane = sequence.lane(door.lane)
        first = (
            next((step for step in lane.steps if isinstance(step, SendStep)), None)
            if lane
            else None
        )
        if first is not None and first.at_once and door.open and not door.asked:
            yield Finding(
                code="not_asked",
                place=door.id,
                sentence="Whoever comes in by this door has not asked for the promised email: to them "
                "it is marketing, and goes to subscribers alone.",
                fix="Keep it so, or lead the door to another lane.",
                stops=False,
            )


def _way(sequence: SequenceDocument, way: Way, place: str) -> Iterator[Finding]:
    if way.to == "lane" and place_of(sequence, way.lane or "", way.step) is None:
        yield Finding(
            code="lane_gone",
            place=place,
            sentence="The lane or step that this continues in is gone.",
            fix="Choose it again.",
        )


def _circles(sequence: SequenceDocument) -> Iterator[Finding]:
    for lane_id, number in circles_without_time(sequence):
        lane = sequence.lane(lane_id)
        at = lane.steps[number].id if lane and number < len(lane.steps) else f"end-{lane_id}"
        yield Finding(
            code="circle",
            place=at,
            sentence="The steps lead round in a circle in which no time passes.",
            fix="Add a wait of at least a minute to it, or let it end.",
        )
        return


def _endless(sequence: SequenceDocument) -> Iterator[Finding]:
    """Lanes that go round for ever, for those who come there."""
    reached = places_reached(sequence, _entrances(sequence))
    lost = {lane for lane, _ in places_without_end(sequence) & reached}
    lanes = [lane for lane in sequence.lanes if lane.id in lost]
    if not lanes:
        return
    names = " and ".join(f"“{lane.name}”" for lane in lanes)
    yield Finding(
        code="endless",
        place=f"end-{lanes[-1].id}",
        sentence=f"{names} never end: people there would get the same emails again and again."
        if len(lanes) > 1
        else f"{names} never ends: people there would get the same emails again and again.",
        fix="End a lane, or add a goal or a leaving condition that ends it.",
    )


def _out_of_reach(sequence: SequenceDocument) -> Iterator[Finding]:
    """Steps that nobody can come to. Every lane can be entered by a route or a member, but one that is
    only joined is clearly meant to be."""
    reached = places_reached(sequence, _entrances(sequence))
    for lane in sequence.lanes:
        for number, step in enumerate(lane.steps):
            if (lane.id, number) not in reached:
                yield Finding(
                    code="out_of_reach",
                    place=step.id,
                    sentence="Nobody can come to this step: every way before it leads elsewhere.",
                    fix="Lead a way here, or remove it.",
                    stops=False,
                )
                break


def _entrances(sequence: SequenceDocument) -> Iterator[str]:
    """The lanes that people come straight into: the first one, those with a door, and any that no other
    lane leads to, since a route or a member can start people in it."""
    joined = {one.lane for one in _ways(sequence) if one.to == "lane"}
    doors = {door.lane for door in sequence.doors}
    for number, lane in enumerate(sequence.lanes):
        if number == 0 or lane.id in doors or lane.id not in joined:
            yield lane.id


def _ways(sequence: SequenceDocument) -> Iterator[Way]:
    for lane in sequence.lanes:
        yield lane.then
        for step in lane.steps:
            yield from (branch.way for branch in step.branches())
    for goal in sequence.goals:
        yield goal.then


def _goals(sequence: SequenceDocument, catalogue: Catalogue) -> Iterator[Finding]:
    for goal in sequence.goals:
        yield from _goal(sequence, goal, catalogue)


def _goal(sequence: SequenceDocument, goal: Goal, catalogue: Catalogue) -> Iterator[Finding]:
    if not goal.event.strip() and goal.when is None:
        yield Finding(
            code="line_unfinished",
            place=goal.id,
            sentence="The goal has neither an event nor a condition.",
            fix="Name the event, or add a condition.",
        )
    if not goal.event and goal.when is not None:
        yield from check_condition(goal.when, goal.id, "goal", catalogue, _nothing_unknown)
    yield from _way(sequence, goal.then, goal.id)
    target = (
        place_of(sequence, goal.then.lane or "", goal.then.step) if goal.then.to == "lane" else None
    )
    if target is None:
        return
    passed = places_reached(sequence, _entrances_without(sequence, goal))
    if target in passed and any(
        place != target and reaches(sequence, target, place) for place in passed
    ):
        yield _led_back(goal)


def _entrances_without(sequence: SequenceDocument, goal: Goal) -> Iterator[str]:
    """The lanes that people come into otherwise than by a goal."""
    others = sequence.model_copy(
        update={"goals": tuple(one for one in sequence.goals if one.id != goal.id)}
    )
    doors = {door.lane for door in others.doors}
    for number, lane in enumerate(others.lanes):
        if number == 0 or lane.id in doors:
            yield lane.id


def _led_back(goal: Goal) -> Finding:
    again = "get emails again that they have had" if goal.may_lead_back else "stay where they are"
    return Finding(
        code="goal_leads_back",
        place=goal.id,
        sentence=f"Some people have passed the step that this goal leads to: they {again}.",
        fix="Choose a lane that comes later, or keep it.",
        stops=False,
    )


def _leaving(sequence: SequenceDocument, around: Surroundings) -> Iterator[Finding]:
    leaving, catalogue = sequence.leaving, around.catalogue
    if leaving.when is not None:
        yield from check_condition(
            leaving.when, "leaving", "exclusion", catalogue, _nothing_unknown
        )
    for one in leaving.these if leaving.takes_over == "these" else ():
        if one not in catalogue.sequences or one == around.own_id:
            yield Finding(
                code="sequence_gone",
                place="leaving",
                sentence="A sequence that people would leave for this one is gone.",
                fix="Choose it again.",
            )
