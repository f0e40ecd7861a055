"""What happens to runs, of many people, collected first and written in few statements."""

from datetime import datetime

from core.documents import Because
from core.sequences import (
    WITHDRAWS,
    Acted,
    Advanced,
    Ended,
    ReachedGoal,
    SendMessage,
    SequenceDocument,
)
from server.mail.models import Send
from server.mail.outbox import Outbox
from server.people.models import Fact
from server.people.trail import fact, store_facts

from .models import Run
from .run_rows import RunRows
from .step_effects import Afterwards, StepEffects


class Progress:
    """Runs that go on; `write` stores everything once, in the caller's transaction. The caller has locked
    the people."""

    def __init__(self) -> None:
        self._outbox = Outbox()
        self._rows = RunRows()
        self._steps = StepEffects()
        self._facts: list[Fact] = []
        self._replayed: list[tuple[Run, SendMessage, SequenceDocument]] = []

    def enter(self, run: Run, name: str, lane: str, because: Because) -> None:
        """A run that begins."""
        self._rows.enter(run)
        what = {"sequence": name, "id": str(run.sequence_id), "lane": lane}
        entered = fact(run.subscriber, Fact.Kind.ENTERED, what, because, run.entered_at)
        self._facts.append(entered)

    def move(self, run: Run, result: Advanced, document: SequenceDocument) -> None:
        """A run goes as far as `result` says."""
        self._rows.visit(run, result.effects)
        for effect in result.effects:
            match effect:
                case SendMessage() if run.by_replay:
                    self._replayed.append((run, effect, document))
                case SendMessage():
                    self._send(run, effect, document)
                case Acted():
                    self._steps.act(run, effect)
                case ReachedGoal():
                    self._reach(run, effect)
                case Ended(reason=reason, at=at):
                    self._end(run, reason, at, because_of(run, result.run.step))
        self._rows.stand(run, result.run)

    def end(self, run: Run, reason: str, at: datetime, because: Because | None = None) -> None:
        """A run ends where it stands."""
        run.due_at, run.moved = None, []
        self._end(run, reason, at, because or because_of(run, run.step))
        self._rows.change(run)

    def fail(self, run: Run) -> None:
        """A run that could not go on: what was noted on it (`moving.note_failure`) is stored."""
        self._rows.change(run)

    def withdraw_emails(self, run: Run, reason: str) -> None:
        """What waits to go of a run is withdrawn, whether it has ended before or ends now."""
        why = _WHY_WITHDRAWN.get(reason, "its run ended before it was due")
        self._rows.withdraw_emails(run, why)

    def write(self) -> Afterwards:
        """Store everything; what is left to do with sequences and lists besides."""
        self._rows.write_withdrawals()
        self._send_unless_sent()
        self._steps.write_people()
        self._rows.write()
        store_facts(self._facts)
        self._outbox.write()
        self._steps.write_the_rest()
        return self._steps.afterwards

    def _end(self, run: Run, reason: str, at: datetime, because: Because) -> None:
        """The one place where a run ends: its emails that wait are withdrawn, unless it came to its end."""
        run.ended, run.ended_at = reason, at
        if reason in WITHDRAWS:
            self.withdraw_emails(run, reason)
        what = {"sequence": run.sequence.name, "id": str(run.sequence_id), "why": reason}
        self._facts.append(fact(run.subscriber, Fact.Kind.LEFT, what, because, at))

    def _reach(self, run: Run, effect: ReachedGoal) -> None:
        if not run.goal:
            run.goal, run.goal_at = effect.goal, effect.at
        if not effect.stays:
            self.withdraw_emails(run, "goal")
        what = {"sequence": run.sequence.name, "id": str(run.sequence_id), "goal": effect.name}
        because = because_of(run, run.step)
        self._facts.append(fact(run.subscriber, Fact.Kind.GOAL, what, because, effect.at))

    def _send(self, run: Run, effect: SendMessage, document: SequenceDocument) -> None:
        self._outbox.add(
            run.subscriber,
            effect.message,
            document.list,
            f"run/{run.pk}/{effect.step}/{effect.lap}",
            because_of(run, effect.step),
            effect.at,
            act=effect.act,
            answers=run.answers,
            any_hour=effect.any_hour,
            holds=effect.holds,
        )

    def _send_unless_sent(self) -> None:
        """A replay started these runs: nobody is sent again what they have been sent before."""
        if not self._replayed:
            return
        theirs = Send.everywhere.filter(
            subscriber__in={run.subscriber_id for run, _, _ in self._replayed},
            message__in={effect.message for _, effect, _ in self._replayed},
        ).exclude(state=Send.State.WITHDRAWN)
        sent = {(one, str(message)) for one, message in theirs.values_list("subscriber", "message")}
        for run, effect, document in self._replayed:
            if (run.subscriber_id, effect.message) not in sent:
                self._send(run, effect, document)


def because_of(run: Run, step: str | None) -> Because:
    """The cause of what a run does at a step."""
    return Because(
        kind="step",
        sentence=f"sequence {run.sequence.name}",
        sequence_id=str(run.sequence_id),
        sequence_name=run.sequence.name,
        run_id=str(run.pk),
        step_id=step,
    )


_WHY_WITHDRAWN = {
    "goal": "a goal was reached before it was due",
    "excluded": "they left the sequence before it was due",
    "no_longer_fits": "they no longer fitted the sequence when it was due",
    "unsubscribed": "unsubscribed before it was due",
    "suppressed": "on the suppression list before it was due",
    "stopped": "a rule ended the sequence before it was due",
    "started_over": "they entered the sequence anew before it was due",
    "taken_over": "another sequence took over before it was due",
    "member": "a member took them out before it was due",
}
