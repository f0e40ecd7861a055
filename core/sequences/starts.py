"""Sequences to begin from: each a document with nothing chosen, whose gaps pre-flight lists."""

from dataclasses import dataclass
from datetime import time

from ..conditions import Group, HappenedTest, TagTest
from ..delivering import Duration
from .document import Goal, Lane, SequenceDocument
from .doors import ConditionDoor, DateDoor, EventDoor, ListDoor, RouteDoor
from .steps import (
    SendStep,
    SplitBranch,
    SplitStep,
    Step,
    WaitConditionStep,
    WaitDateStep,
    WaitStep,
)
from .ways import END, Way


@dataclass(frozen=True)
class Start:
    """One of the sequences to begin from."""

    key: str
    name: str
    says: str
    document: SequenceDocument


def _days(step: str, amount: int) -> WaitStep:
    return WaitStep(id=step, duration=Duration(amount=amount, unit="days"))


def _minutes(step: str, amount: int) -> WaitStep:
    return WaitStep(id=step, duration=Duration(amount=amount, unit="minutes"))


def _lane(*steps: Step) -> Lane:
    return Lane(id="a", name="A", steps=steps)


def _event(name: str) -> Group:
    return Group(of=(HappenedTest(what="event", about=name),))


_GUIDE = SequenceDocument(
    again="start_over",
    doors=(RouteDoor(id="d1", lane="a"),),
    goals=(Goal(id="g1", name="bought", event="bought", within_days=90),),
    lanes=(
        _lane(
            SendStep(id="s1", at_once=True),
            _days("w1", 1),
            SplitStep(
                id="p1",
                of=(SplitBranch(id="b1", name="has bought", when=_event("bought"), way=END),),
            ),
            SendStep(id="s2"),
            _days("w2", 2),
            SendStep(id="s3"),
            _days("w3", 5),
            SendStep(id="s4"),
        ),
    ),
)
_WELCOME = SequenceDocument(
    again="once_only",
    doors=(ListDoor(id="d1", lane="a"),),
    lanes=(
        _lane(
            _minutes("w0", 3),
            SendStep(id="s1"),
            _days("w1", 2),
            SendStep(id="s2"),
            _days("w2", 4),
            SendStep(id="s3"),
        ),
    ),
)
_REMIND = SequenceDocument(
    again="start_over",
    doors=(EventDoor(id="d1", lane="a", name="asked for a visit"),),
    goals=(Goal(id="g1", name="booked", event="booked", within_days=30),),
    lanes=(
        _lane(
            SendStep(id="s1", at_once=True),
            WaitConditionStep(
                id="w1",
                when=_event("booked"),
                at_most=Duration(amount=2, unit="days"),
                held=END,
                otherwise=Way(),
            ),
            SendStep(id="s2"),
            _days("w2", 4),
            SendStep(id="s3"),
        ),
    ),
)
_DATE = SequenceDocument(
    again="start_over",
    doors=(DateDoor(id="d1", lane="a", days=-7, at=time(9)),),
    lanes=(
        _lane(
            SendStep(id="s1"),
            WaitDateStep(id="w1", days=-1, at=time(9), otherwise=END),
            SendStep(id="s2"),
            WaitDateStep(id="w2", days=1, at=time(10), otherwise=END),
            SendStep(id="s3"),
        ),
    ),
)
_PURCHASE = SequenceDocument(
    again="run_alongside",
    doors=(EventDoor(id="d1", lane="a", name="bought"),),
    lanes=(
        _lane(
            SendStep(id="s1", at_once=True),
            _days("w1", 3),
            SendStep(id="s2"),
            _days("w2", 14),
            SendStep(id="s3"),
        ),
    ),
)
_QUIET = SequenceDocument(
    again="once_only",
    doors=(
        ConditionDoor(
            id="d1",
            lane="a",
            when=Group(
                of=(
                    HappenedTest(what="submitted"),
                    Group(kind="none", of=(HappenedTest(what="submitted", within_hours=24 * 180),)),
                )
            ),
        ),
    ),
    goals=(Goal(id="g1", name="came back", event="came back", within_days=60),),
    lanes=(
        _lane(
            SendStep(id="s1"),
            _days("w1", 10),
            SplitStep(
                id="p1", of=(SplitBranch(id="b1", name="is kept", when=Group(of=(TagTest(),))),)
            ),
            SendStep(id="s2"),
        ),
    ),
)
STARTS = (
    Start(
        "guide",
        "Deliver a guide, then follow up",
        "The promised email at once, an offer after a day; whoever buys leaves.",
        _GUIDE,
    ),
    Start(
        "welcome",
        "Welcome new subscribers",
        "Three emails in the first week, a few minutes after somebody joins a list.",
        _WELCOME,
    ),
    Start(
        "remind",
        "Remind whoever has not booked",
        "The link at once, two reminders; whoever books leaves.",
        _REMIND,
    ),
    Start(
        "date",
        "Around a date",
        "A week before a date of theirs, the day before, and the day after.",
        _DATE,
    ),
    Start(
        "purchase",
        "After a purchase",
        "Thanks at once, help after three days, a word after two weeks; for each purchase.",
        _PURCHASE,
    ),
    Start(
        "quiet",
        "Win back whoever went quiet",
        "After half a year without a word: two emails, ten days apart.",
        _QUIET,
    ),
)


def start_named(key: str) -> SequenceDocument | None:
    """The document to begin from; None: there is none of that name."""
    return next((one.document for one in STARTS if one.key == key), None)
