"""Do what a rule of a route can do: tags, fields, score, lists, events, tasks, other sequences."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Literal

from pydantic import Field

from ...deciding import (
    ActionCheck,
    AddTags,
    AppliedRule,
    ChangeScore,
    ChangeSubscription,
    HandOver,
    LeaveSequence,
    MakeTask,
    Notify,
    PutField,
    RecordEvent,
    RemoveTags,
    SetOwner,
    StartSequence,
    StopSequence,
    TagByAnswer,
    TagFromAnswer,
)
from ...documents import Finding, Use
from ...people import Catalogue
from ..effects import Acted
from ..journey import Walk
from .base import LaneStep, StepCheck

StepAction = Annotated[
    AddTags
    | RemoveTags
    | TagByAnswer
    | TagFromAnswer
    | PutField
    | ChangeScore
    | RecordEvent
    | ChangeSubscription
    | StartSequence
    | StopSequence
    | Notify
    | MakeTask
    | HandOver
    | SetOwner,
    Field(discriminator="kind"),
]


class ActStep(LaneStep):
    """Carry out an action, as a rule of a route does; answers are those of the submission that
    started the run."""

    kind: Literal["act"] = "act"
    action: StepAction

    def go(self, walk: Walk) -> str:
        """The effects of the action; the run ends where it stops its own sequence."""
        context = walk.context(self.id)
        own = walk.journey.sequence_id
        self.action.carry_out(context, AppliedRule(line=self.id, number=0, why="a step"))
        stops = [
            one for one in context.effects if isinstance(one, LeaveSequence) and one.sequence == own
        ]
        effects = tuple(one for one in context.effects if one not in stops)
        sentence = " · ".join(one.text for one in context.outcomes)
        acted = Acted(
            step=self.id,
            at=walk.moment,
            effects=effects,
            sentence=sentence,
            problems=tuple(context.problems),
        )
        walk.effects.append(acted)
        walk.person = context.person
        return "stops" if stops else ""

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """As in a rule; and nobody asks for a list by coming to a step."""
        yield from self.action.check(ActionCheck(self.id, at.catalogue, at.unknown))
        action = self.action
        if isinstance(action, ChangeSubscription) and action.direction == "subscribe":
            confirmed = action.list in at.catalogue.confirmed_lists
            yield Finding(
                code="subscribes_unasked",
                place=self.id,
                sentence="This step subscribes people who did not ask for the list here.",
                fix="Make the list ask them to confirm by email, or offer it in an email instead.",
                stops=not confirmed,
            )

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """tag guide"""
        return self.action.describe(catalogue)

    def uses(self) -> Iterator[Use]:
        """As the action does."""
        yield from self.action.uses()
