"""Start a sequence."""

from collections.abc import Iterator
from typing import Literal

from ...conditions import holds, say
from ...documents import Finding, Use
from ...people import Catalogue
from ...reading import Form
from ..decision import EnterSequence
from ..rule_context import RuleContext
from .base import ActionCheck, AppliedRule, RuleAction


class StartSequence(RuleAction):
    """Start a sequence, at the top of a lane (the first one where none is named)."""

    kind: Literal["start_sequence"] = "start_sequence"
    sequence: str | None = None
    lane: str | None = None

    def carry_out(self, context: RuleContext, rule: AppliedRule) -> None:
        """As its doors allow it, and only while the sequence is live."""
        line, sequence = rule.line, context.catalogue.sequences.get(self.sequence or "")
        if sequence is None:
            if self.sequence:
                context.gone("sequence", line)
            return context.outcome(line, "no sequence to start", acts=False)
        door = sequence.door_to(self.lane)
        if sequence.id in context.entered and door.again == "once_only":
            sentence = f"was in {sequence.name} before: once only"
            return context.outcome(line, sentence, acts=False)
        if not door.open:
            return context.outcome(line, f"the door to {sequence.name} is closed", acts=False)
        if door.only is not None and not holds(
            door.only, context.person, context.circumstances, context.catalogue
        ):
            sentence = (
                f"the door to {sequence.name} is for others: {say(door.only, context.catalogue)}"
            )
            return context.outcome(line, sentence, acts=False)
        if not sequence.live:
            return context.outcome(line, f"{sequence.name} is not live: nothing starts", acts=False)
        again = door.again if sequence.id in context.entered else "once_only"
        context.entered.add(sequence.id)
        context.under_way.add(sequence.id)
        context.effects.append(
            EnterSequence(
                sequence=sequence.id,
                name=sequence.name,
                lane=self.lane,
                again=again,
                # Whoever stands in a file has not asked for anything just now.
                act=context.act,
                because=context.because("then", line, rule.why),
            )
        )
        lane = sequence.lanes.get(self.lane or "")
        starts = {
            "once_only": "starts",
            "start_over": "starts over in",
            "run_alongside": "starts again",
        }
        sentence = f"{starts[again]} {sequence.name}" + (f", lane {lane}" if lane else "")
        context.outcome(line, sentence, acts=True)

    def check(self, at: ActionCheck) -> Iterator[Finding]:
        """The sequence is there and live, and the sheet subscribes to its list."""
        sequence = at.catalogue.sequences.get(self.sequence or "")
        if sequence is None:
            yield at.missing("sequence", self.sequence)
            return
        if self.lane and self.lane not in sequence.lanes:
            yield Finding(
                code="lane_gone",
                place=at.place,
                sentence=f"The lane of {sequence.name} that this starts at is gone.",
                fix="Choose the lane again.",
            )
        if not sequence.live:
            yield Finding(
                code="sequence_not_live",
                place=at.place,
                sentence=f"{sequence.name} is not live, so nobody would be started.",
                fix="Turn the sequence on first.",
            )
        if sequence.list_id and sequence.list_id not in at.lists:
            name = at.catalogue.lists.get(sequence.list_id, "its list")
            yield at.warning(
                "sequence_list",
                f"The emails of {sequence.name} go to subscribers of {name}, "
                "and this sheet does not subscribe anybody to it.",
                f"Add {name} to the Consent band.",
            )

    def describe(self, catalogue: Catalogue, form: Form | None = None) -> str:
        """start First telescope"""
        found = catalogue.sequences.get(self.sequence or "")
        return f"start {found.name if found else 'a sequence that is gone'}"

    def uses(self) -> Iterator[Use]:
        """Starts its sequence."""
        if self.sequence:
            yield Use(id=self.sequence, how="starts")
