"""Where a run stands, what it looks at on its way, and one walk from step to step."""

import hashlib
from dataclasses import field, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from ..conditions import Circumstances, Group, holds
from ..deciding import RuleContext, SubmissionFacts
from ..delivering import ALWAYS, Duration, Move, SendingTimes, Settled, longer_gap, settle
from ..documents import Because, value
from ..people import Catalogue, Happening, Person
from ..reading import Answers, Form
from .effects import EndReason, RunEffect, SendMessage


@value
class RunState:
    """Where a run stands: at `step` since `came_at`, to go on at `due_at`."""

    lane: str
    step: str | None = None
    came_at: datetime | None = None
    due_at: datetime | None = None
    moved: tuple[Move, ...] = ()
    """What moved `due_at` from when the email was wanted."""
    lap: int = 1
    """Counts up with each jump back to where it may have been before."""
    goals: tuple[str, ...] = ()
    """The goals that are reached, or that held when it began and so do not count."""
    act: str = ""
    """The act of the person's own that brought them in, as long as what follows still answers it: until
    the first email that does, the first wait, split or other lane. Then everything is marketing."""
    ended: EndReason | None = None

    def at(
        self,
        lane: str,
        step: str,
        came_at: datetime,
        due_at: datetime | None,
        moved: tuple[Move, ...] = (),
    ) -> "RunState":
        """The same run at another step: `replace`, in a third of its time."""
        return RunState(
            lane=lane,
            step=step,
            came_at=came_at,
            due_at=due_at,
            moved=moved,
            lap=self.lap,
            goals=self.goals,
            act=self.act,
            ended=self.ended,
        )


@value
class Journey:
    """What stays the same on the way: whose run it is, where it began, and what exists."""

    sequence_id: str = ""
    name: str = ""
    run_id: str = ""
    subscriber_id: str = ""
    catalogue: Catalogue = field(default_factory=Catalogue)
    times: SendingTimes = field(default_factory=SendingTimes)
    """The workspace's, for sequences that have none of their own."""
    gap: Duration | None = None
    """What has to lie between two marketing emails to one person."""
    entered_at: datetime | None = None
    door: str = ""
    """The id of the door, as far as it is one of the document's."""
    act: str = "rehearsal"
    """The act of the person's own by which they came in; empty: they came in by none, and what is promised
    to others is marketing to them."""
    answers: Answers = ()
    """Of the submission that started it."""
    source: str = ""


class Walk:
    """One walk of a run: where the person, the moment and the effects have come to."""

    def __init__(
        self, run: RunState, person: Person, now: datetime, journey: Journey, times: SendingTimes
    ) -> None:
        self.run = run
        self.person = person
        self.now = now
        self.moment = now
        """When what happens next happens: a late worker does not shift it."""
        self.journey = journey
        self.times = times
        self.effects: list[RunEffect] = []

    @property
    def zone(self) -> ZoneInfo:
        """The person's time zone."""
        return ZoneInfo(self.person.time_zone)

    def fits(self, condition: Group | None, at: datetime | None = None) -> bool:
        """Whether a condition (None: everybody) holds for the person, now or by what had happened
        `at` a moment before."""
        if condition is None:
            return True
        seen = self._circumstances(at or self.now)
        return holds(condition, self.person, seen, self.journey.catalogue)

    def _circumstances(self, now: datetime) -> Circumstances:
        return Circumstances(
            now=now,
            zone=self.person.time_zone,
            answers=self.journey.answers,
            source=self.journey.source,
        )

    def settled(self, wanted: datetime, *, in_hours: bool) -> Settled:
        """When a marketing email wanted at `wanted` may go to the person."""
        return settle(
            wanted,
            self.times if in_hours else ALWAYS,
            self.zone,
            last=self.person.last_marketing_at,
            gap=longer_gap(self.journey.gap, self.person.gap_days),
        )

    def send(self, effect: SendMessage) -> None:
        """The person is sent a message; what comes after sees it."""
        self.effects.append(effect)
        happened = Happening(what="sent", about=effect.message, at=effect.at)
        last = self.person.last_marketing_at
        if not effect.act:
            last = max(effect.at, last) if last else effect.at
        self.person = replace(
            self.person, happened=(*self.person.happened, happened), last_marketing_at=last
        )

    def context(self, step: str) -> "StepContext":
        """What an action of a rule needs, at a step."""
        return StepContext(self, step)


class StepContext(RuleContext):
    """The context of a rule's action that a step carries out: the run's answers, no form."""

    def __init__(self, walk: Walk, step: str) -> None:
        journey = walk.journey
        facts = SubmissionFacts(
            source_id=journey.source, source_name="", answers=journey.answers, own=False
        )
        super().__init__(facts, Form(), Form(), walk.person, journey.catalogue, walk.now)
        # Nothing was submitted just now.
        self.happened = list(walk.person.happened)
        self._journey = journey
        self._step = step

    @property
    def act(self) -> str:
        """A step is no act of the person's own."""
        return ""

    def because(self, band: str, line: str, sentence: str) -> Because:
        """The cause of a fact: the sequence, the run and the step."""
        return step_because(self._journey, self._step)


def step_because(journey: Journey, step: str | None) -> Because:
    """The cause of what a run does at a step."""
    return Because(
        kind="step",
        sentence=f"sequence {journey.name}",
        sequence_id=journey.sequence_id or None,
        sequence_name=journey.name,
        run_id=journey.run_id or None,
        step_id=step,
    )


def share_of(sequence: str, step: str, subscriber: str) -> float:
    """Where somebody falls between 0 and 1 at a split by chance: the same place each time."""
    named = hashlib.sha256(f"{sequence}/{step}/{subscriber}".encode()).digest()
    return int.from_bytes(named[:8]) / 2**64
