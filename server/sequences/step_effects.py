"""What steps do to people, as rules do, collected first and written in few statements."""

from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID

from core.deciding import (
    AskToConfirm,
    Effect,
    EnterSequence,
    Handoff,
    LeaveSequence,
    Subscribe,
    TellMembers,
)
from core.documents import Problem
from core.sequences import Acted
from server.mail.confirming import Asking, ask_to_confirm
from server.people.effects import apply_effects
from server.people.ledger import Ledger
from server.people.models import Subscriber
from server.services.outbox import Handoffs
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_each

from .jobs import TELL_MEMBER
from .models import Run


@dataclass(frozen=True)
class Entering:
    """Somebody who is to enter a sequence, and with which answers."""

    subscriber: Subscriber
    effect: EnterSequence
    answers: list[list[str]]


@dataclass
class Afterwards:
    """What steps set going besides their own people's rows: other sequences, and lists left."""

    entering: list[Entering] = field(default_factory=list)
    leaving: list[tuple[Subscriber, LeaveSequence]] = field(default_factory=list)
    left: list[tuple[Subscriber, str]] = field(default_factory=list)


class StepEffects:
    """Effects of steps on their people."""

    def __init__(self) -> None:
        self.afterwards = Afterwards()
        self._ledger = Ledger()
        self._handoffs = Handoffs()
        self._asking: dict[UUID, tuple[Workspace, list[Asking], datetime]] = {}
        self._told: list[dict[str, str]] = []
        self._problems: dict[tuple[UUID, str, str], list[tuple[Run, Problem]]] = {}

    def act(self, run: Run, acted: Acted) -> None:
        """What a step does to the person of a run."""
        person = run.subscriber
        apply_effects(self._ledger, person, acted.effects, {}, acted.at)
        for effect in acted.effects:
            self._follow(run, effect, acted)
        for problem in acted.problems:
            key = (run.sequence_id, acted.step, problem.code)
            self._problems.setdefault(key, []).append((run, problem))

    def _follow(self, run: Run, effect: Effect, acted: Acted) -> None:
        person = run.subscriber
        match effect:
            case EnterSequence():
                self.afterwards.entering.append(Entering(person, effect, run.answers))
            case LeaveSequence():
                self.afterwards.leaving.append((person, effect))
            case Subscribe(to="unsubscribed" | "none"):
                self.afterwards.left.append((person, effect.list))
            case AskToConfirm():
                first: tuple[Workspace, list[Asking], datetime] = (run.workspace, [], acted.at)
                _, asking, _ = self._asking.setdefault(run.workspace_id, first)
                asking.append(Asking(person, effect.list, effect.because))
            case Handoff():
                origin = f"step/{run.pk}/{acted.step}/{run.lap}"
                self._handoffs.add(person, effect, origin, acted.at, run.answers)
            case TellMembers():
                self._told += [
                    {
                        "sequence_id": str(run.sequence_id),
                        "person_id": str(person.pk),
                        "run_id": str(run.pk),
                        "member_id": member,
                    }
                    for member in effect.members
                ]

    def write_people(self) -> None:
        """Store what became of the people."""
        self._ledger.write()

    def write_the_rest(self) -> None:
        """Store what follows outside of them, once their runs are stored."""
        self._handoffs.write()
        for workspace, asking, at in self._asking.values():
            ask_to_confirm(workspace, asking, at)
        defer_each(TELL_MEMBER, self._told)
        self._report()

    def _report(self) -> None:
        """A snag for each thing that a step could not do, in one order."""
        for (sequence, step, code), found in sorted(
            self._problems.items(), key=lambda one: str(one[0])
        ):
            run, problem = found[0]
            report(
                run.workspace,
                Snag.About.SEQUENCE,
                f"act/{sequence}/{step}/{code}",
                f"{run.sequence.name}: {problem.sentence}",
                problem.fix or "Change the step in the sequence.",
                {"sequence": str(sequence), "step": step, "person": str(run.subscriber_id)},
                len(found),
            )
