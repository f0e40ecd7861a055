"""The sheet of a source, as a document: form, map, consent, rules, and what the visitor sees."""

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .conditions import Group
from .documents import Frozen
from .forms import Form
from .reading import ReadLine

SourceKind = Literal["form", "posted", "file", "sheet", "webhook"]
OWN_KINDS: tuple[SourceKind, ...] = ("form", "posted")
"""Kinds whose submissions are sent by the person who is in them."""


class ConsentLine(Frozen):
    """Subscribe to a list: always, or only if the yes/no question `question` is a yes."""

    id: str
    list: str | None = None
    question: str = ""
    wording: str = ""
    confirm: bool = False
    """Whether they confirm by email first though the list does not ask for it."""


class AddTags(Frozen):
    """Tag everybody who comes through."""

    kind: Literal["add_tags"] = "add_tags"
    tags: tuple[str, ...] = ()


class TagRow(Frozen):
    """The tags that one choice gives."""

    choice: str
    tags: tuple[str, ...] = ()


class TagByAnswer(Frozen):
    """Tag by the answer to a question: a table of choice and tags."""

    kind: Literal["tag_by_answer"] = "tag_by_answer"
    question: str = ""
    table: tuple[TagRow, ...] = ()


class StartSequence(Frozen):
    """Start a sequence, at the top of a lane (the first one where none is named)."""

    kind: Literal["start_sequence"] = "start_sequence"
    sequence: str | None = None
    lane: str | None = None


class RemoveTags(Frozen):
    """Take tags off."""

    kind: Literal["remove_tags"] = "remove_tags"
    tags: tuple[str, ...] = ()


class TagFromAnswer(Frozen):
    """The answer's own text as the tag, of a stated set or with a stated beginning."""

    kind: Literal["tag_from_answer"] = "tag_from_answer"
    question: str = ""
    prefix: str = ""
    """What every such tag begins with: "source: " makes of "fair" the tag "source: fair"."""
    only: tuple[str, ...] = ()
    """Answers that may become tags; any where it is empty and there is a prefix."""


class PutField(Frozen):
    """Set a field to a fixed value, read as an answer would be; empty to empty it."""

    kind: Literal["put_field"] = "put_field"
    field: str | None = None
    value: str = ""


class ChangeScore(Frozen):
    """Add to the score, or take from it."""

    kind: Literal["change_score"] = "change_score"
    by: int = Field(default=1, ge=-1000, le=1000)


class RecordEvent(Frozen):
    """Say that something happened, by its name."""

    kind: Literal["record_event"] = "record_event"
    name: str = Field(default="", max_length=60)


class ChangeSubscription(Frozen):
    """Subscribe to a list or unsubscribe from it, or from every list; or whichever of the two an
    answer says. It begins with nothing chosen, and then does nothing."""

    kind: Literal["change_subscription"] = "change_subscription"
    list: str | None = None
    every_list: bool = False
    """Whether it unsubscribes from every list; `list` is empty then."""
    direction: Literal["subscribe", "unsubscribe", "by_answer"] | None = None
    question: str = ""
    subscribe_words: tuple[str, ...] = ("subscribe", "yes")
    unsubscribe_words: tuple[str, ...] = ("unsubscribe", "stop", "no")

    @model_validator(mode="before")
    @classmethod
    def _said_before(cls, data: Any) -> Any:
        """Documents from before `every_list` say all lists by naming none."""
        if isinstance(data, dict) and "every_list" not in data:
            every = data.get("direction") == "unsubscribe" and data.get("list") is None
            return {**data, "every_list": every}
        return data


class StopSequence(Frozen):
    """End the person's run in a sequence, or in every one. It begins with nothing chosen."""

    kind: Literal["stop_sequence"] = "stop_sequence"
    sequence: str | None = None
    every_sequence: bool = False

    @model_validator(mode="before")
    @classmethod
    def _said_before(cls, data: Any) -> Any:
        """Documents from before `every_sequence` say all sequences by naming none."""
        if isinstance(data, dict) and "every_sequence" not in data:
            return {**data, "every_sequence": data.get("sequence") is None}
        return data


class Notify(Frozen):
    """Send members an email with the answers."""

    kind: Literal["notify"] = "notify"
    members: tuple[str, ...] = ()
    owner: bool = False
    """Whether the person's owner is told too."""


class SendNow(Frozen):
    """Send the person a message now, which they asked for by what they sent."""

    kind: Literal["send_now"] = "send_now"
    message: str | None = None
    list: str | None = None


class MakeTask(Frozen):
    """Something for the person's owner to do."""

    kind: Literal["make_task"] = "make_task"
    title: str = Field(default="", max_length=200)
    days: int = Field(default=1, ge=0, le=365)
    """Until it is due."""


class SetOwner(Frozen):
    """Who looks after the person: one member, by an answer, or in turn; never taken from another."""

    kind: Literal["set_owner"] = "set_owner"
    how: Literal["fixed", "by_answer", "in_turn"] = "fixed"
    members: tuple[str, ...] = ()
    question: str = ""
    table: tuple["OwnerRow", ...] = ()


class OwnerRow(Frozen):
    """The owner that one choice gives."""

    choice: str
    member: str | None = None


SetOwner.model_rebuild()

Action = Annotated[
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
    | SendNow
    | MakeTask
    | SetOwner,
    Field(discriminator="kind"),
]


class Rule(Frozen):
    """A rule of the Then band: when a condition holds (always, where there is none), an action.
    One that is switched off stays, and does nothing."""

    id: str
    on: bool = True
    when: Group | None = None
    action: Action


class Passing(Frozen):
    """An answer that is passed along to the next page, under a parameter's name."""

    question: str
    parameter: str


class VisitorSees(Frozen):
    """What the visitor gets after the form: a text, or another page."""

    kind: Literal["text", "page"] = "text"
    heading: str = "Thank you"
    text: str = ""
    address: str = ""
    passing: tuple[Passing, ...] = ()


class OwnForm(Frozen):
    """Of a posted HTML form: where a visitor goes whose answers have to be mended."""

    errors_to: str = ""
    sites: tuple[str, ...] = ()
    """Websites (https://www.example.org) that a visitor may be sent back to."""


Operation = Literal["add_or_update", "add_only", "update_only", "change_address", "erase"]
"""What a submission is for: to add or update a person; to add them if nobody has the address;
to update them if somebody has; to give them another address; to erase them."""


class RouteDocument(Frozen):
    """The whole sheet of a source, band by band."""

    operation: Operation = "add_or_update"
    old_address: str = ""
    """Of a change of address: the question that holds the address so far; Email gets the new one."""
    form: Form = Form()
    read_as: tuple[ReadLine, ...] = ()
    consent: tuple[ConsentLine, ...] = ()
    then: tuple[Rule, ...] = ()
    visitor_sees: VisitorSees = VisitorSees()
    own_form: OwnForm = OwnForm()
