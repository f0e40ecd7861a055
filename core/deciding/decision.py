"""What is decided about a submission: effects, each with its because, and what each line made of it."""

from collections.abc import Mapping
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from ..documents import Because, Problem, value
from ..people import Again, FieldFacts, MembershipState
from ..reading import CONTEXT, PARAMETER, Answers, LineReport
from ..services import Handover
from ..values import Kept

Change = Literal["adds", "changes", "removes"]
_NOBODY = "none"


@value
class SubmissionFacts:
    """A submission as the rules see it."""

    source_id: str
    source_name: str
    answers: Answers
    context: tuple[tuple[str, str], ...] = ()
    """What is known besides: by names of `CONTEXT`, or of a parameter of the page."""
    own: bool = True
    """Whether the person sent it; not so for a row of a file, a sheet or a webhook."""
    stated_consent: str | None = None
    """Of a file: what its people agreed to, as the member says; empty where to nothing."""
    suppressed: bool = False
    """Whether the address of somebody who is not known yet is on the suppression list."""
    erased_at: datetime | None = None
    """When somebody who had the address was erased on request. Only a later act of their own makes
    them anew."""
    received: datetime | None = None
    """When it was received; None: just now."""
    shown_revision: int | None = None
    """The revision that the visitor was shown, where another one decides."""
    browser_zone: str = ""
    """The time zone that the visitor's browser is set to, where it was asked for."""
    changed_since: frozenset[tuple[str, str]] = frozenset()
    """What something received later has changed, as ("field", key) and ("tag", id): it stays."""
    turn: int = 0
    """How many came in here before: whose turn it is, where members take turns."""
    submission_id: str | None = None
    revision: int | None = None

    @property
    def everything(self) -> Answers:
        """Answers and context: what a line of the map can ask for."""
        return (*self.answers, *self.context)


def context_answers(
    context: Mapping[str, object], source_name: str, received: datetime | None
) -> tuple[tuple[str, str], ...]:
    """The context of a submission as questions; `context` as the server keeps it."""
    named = {
        "@page": context.get("page"),
        "@title": context.get("title"),
        "@referrer": context.get("from"),
        "@source": source_name,
        "@received": received.isoformat() if received else None,
        "@ip": context.get("ip"),
    }
    found = [(name, str(named[name])) for name in CONTEXT if named[name]]
    parameters = context.get("parameters")
    if isinstance(parameters, Mapping):
        found += [(f"{PARAMETER}{name}", str(text)) for name, text in parameters.items()]
    return tuple(found)


@value
class EffectOf:
    """The base of all effects: what is done, and its cause."""

    because: Because

    def in_words(self) -> str:
        """The effect in a few words, as previews, tables and histories show it."""
        raise NotImplementedError

    def change(self) -> Change:
        """Whether it adds something, changes it or takes it away."""
        return "adds"


def _state(state: str) -> str:
    return "not on it" if state == _NOBODY else state


@value
class SetField(EffectOf):
    """Keep a value in a field."""

    kind: Literal["set_field"] = "set_field"
    field: str
    key: str
    label: str
    before: Kept | None = None
    after: Kept
    shown_before: str
    shown: str
    """The values as people read them: the label of a choice, yes or no."""

    def in_words(self) -> str:
        return f"{self.label}: {self.shown_before or 'empty'} → {self.shown or 'empty'}"

    def change(self) -> Change:
        if self.after in ("", ()):
            return "removes"
        return "adds" if self.before in (None, "", ()) else "changes"


@value
class AddTag(EffectOf):
    """Put a tag on the person."""

    kind: Literal["add_tag"] = "add_tag"
    tag: str
    name: str

    def in_words(self) -> str:
        return f"+ {self.name}"


@value
class Subscribe(EffectOf):
    """Move a membership, with the wording that was agreed to."""

    kind: Literal["subscribe"] = "subscribe"
    list: str
    name: str
    before: MembershipState
    to: MembershipState
    wording: str

    def in_words(self) -> str:
        return f"{self.name}: {_state(self.before)} → {_state(self.to)}"

    def change(self) -> Change:
        if self.to in (_NOBODY, "unsubscribed"):
            return "removes"
        return "adds" if self.before == _NOBODY else "changes"


@value
class LeaveAllLists(EffectOf):
    """The person leaves every list at once, those that they never joined among them."""

    kind: Literal["leave_all_lists"] = "leave_all_lists"

    def in_words(self) -> str:
        return "leaves every list"

    def change(self) -> Change:
        return "removes"


@value
class SetZone(EffectOf):
    """The person's time zone becomes known, or another one."""

    kind: Literal["set_zone"] = "set_zone"
    before: str
    after: str

    def in_words(self) -> str:
        return f"time zone: {self.after}"


@value
class AskToConfirm(EffectOf):
    """An email that asks the person to confirm a subscription."""

    kind: Literal["ask_to_confirm"] = "ask_to_confirm"
    list: str
    name: str

    def in_words(self) -> str:
        return f"asks to confirm {self.name}"


@value
class RemoveTag(EffectOf):
    """Take a tag off the person."""

    kind: Literal["remove_tag"] = "remove_tag"
    tag: str
    name: str

    def in_words(self) -> str:
        return f"− {self.name}"

    def change(self) -> Change:
        return "removes"


@value
class Score(EffectOf):
    """Change the score."""

    kind: Literal["score"] = "score"
    before: int
    after: int

    def in_words(self) -> str:
        return f"score {self.before} → {self.after}"

    def change(self) -> Change:
        return "changes"


@value
class Event(EffectOf):
    """Something happened, by its name."""

    kind: Literal["event"] = "event"
    name: str
    data: Mapping[str, str] | None = None
    """What was said with it, by name."""

    def in_words(self) -> str:
        return f"event: {self.name}"


@value
class LeaveSequence(EffectOf):
    """End a run."""

    kind: Literal["leave_sequence"] = "leave_sequence"
    sequence: str
    name: str

    def in_words(self) -> str:
        return f"ends {self.name}"

    def change(self) -> Change:
        return "removes"


@value
class TellMembers(EffectOf):
    """An email to members, with the answers."""

    kind: Literal["tell_members"] = "tell_members"
    members: tuple[str, ...]
    names: tuple[str, ...]

    def in_words(self) -> str:
        return f"tells {', '.join(self.names)}"


@value
class Send(EffectOf):
    """A message to the person, now."""

    kind: Literal["send"] = "send"
    message: str
    name: str
    list: str | None = None
    line: str
    act: str = ""
    """The act of the person's own that it answers (`Because.act`); empty: it is marketing."""

    def in_words(self) -> str:
        return f"sends “{self.name}”"


@value
class Task(EffectOf):
    """Something for a member to do."""

    kind: Literal["task"] = "task"
    title: str
    days: int
    member: str | None = None

    def in_words(self) -> str:
        return f"task: {self.title}"


@value
class Owner(EffectOf):
    """A member looks after the person."""

    kind: Literal["owner"] = "owner"
    member: str
    name: str

    def in_words(self) -> str:
        return f"owner: {self.name}"


@value
class EnterSequence(EffectOf):
    """Start a run of a sequence."""

    kind: Literal["enter_sequence"] = "enter_sequence"
    sequence: str
    name: str
    lane: str | None = None
    again: Again = "once_only"
    """What becomes of the run that they have been in before, if there is one."""
    door: str = ""
    """The id of the door, where it is one of the sequence's document."""
    act: str = ""
    """The act of the person's own by which they come in (`Because.act`); empty: by none."""

    def in_words(self) -> str:
        return f"starts {self.name}"


@value
class Handoff(EffectOf):
    """The person is handed to a service."""

    kind: Literal["handoff"] = "handoff"
    handover: Annotated[Handover, Field(exclude=True)] = Handover()
    """What goes along; not stored with what was decided, since the route's revision has it."""
    service: str
    name: str
    operation: str
    """What the service does, in words."""
    line: str

    def in_words(self) -> str:
        return f"{self.name}: {self.operation.lower()}"


@value
class ChangeAddress(EffectOf):
    """The person has another address. What `asks` is carried out once the old one agrees."""

    kind: Literal["change_address"] = "change_address"
    before: str
    after: str
    asks: bool

    def in_words(self) -> str:
        return f"{'asks about the address' if self.asks else 'address'}: {self.after}"

    def change(self) -> Change:
        return "changes"


@value
class Erase(EffectOf):
    """All that is known of the person goes. What `asks` is carried out once they agree."""

    kind: Literal["erase"] = "erase"
    asks: bool

    def in_words(self) -> str:
        return "asks whether to be erased" if self.asks else "erased"

    def change(self) -> Change:
        return "removes"


def field_set(target: FieldFacts, before: Kept | None, after: Kept, because: Because) -> SetField:
    """The effect that a field becomes `after`, in the words of its type."""
    return SetField(
        field=target.id,
        key=target.key,
        label=target.label,
        before=before,
        after=after,
        shown_before="" if before is None else target.shown(before),
        shown=target.shown(after),
        because=because,
    )


Effect = Annotated[
    SetField
    | AddTag
    | RemoveTag
    | Score
    | Event
    | Subscribe
    | LeaveAllLists
    | SetZone
    | AskToConfirm
    | EnterSequence
    | LeaveSequence
    | TellMembers
    | Send
    | Task
    | Owner
    | Handoff
    | ChangeAddress
    | Erase,
    Field(discriminator="kind"),
]


@value
class Outcome:
    """What one line of Consent or Then made of the submission, in a few words."""

    line: str
    text: str
    acts: bool


@value
class Decision:
    """What should happen. Without an address nobody is stored and nothing is done."""

    address: str | None = None
    is_new: bool
    stores: bool = True
    """Whether the person is stored; not so where nobody is to be added."""
    reading: tuple[LineReport, ...]
    unmapped: tuple[str, ...]
    outcomes: tuple[Outcome, ...]
    effects: tuple[Effect, ...]
    problems: tuple[Problem, ...]

    def as_json(self) -> dict[str, Any]:
        """As it is stored: what is None is left out."""
        stored: dict[str, Any] = _DECISION.dump_python(self, mode="json", exclude_none=True)
        return stored

    @staticmethod
    def from_json(stored: Any) -> "Decision":
        """A decision as it was stored."""
        return _DECISION.validate_python(stored)


_DECISION = TypeAdapter(Decision)
