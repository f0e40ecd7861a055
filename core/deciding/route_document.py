"""The sheet of a source, as a document: form, map, consent, rules, and what the visitor sees."""

from typing import Literal

from ..conditions import Group
from ..documents import Frozen
from ..reading import Form, ReadLine
from .actions import Action

SourceKind = Literal["form", "posted", "file", "sheet", "webhook"]


class ConsentLine(Frozen):
    """Subscribe to a list: always, or only if the yes/no question `question` is a yes."""

    id: str
    list: str | None = None
    question: str = ""
    wording: str = ""
    confirm: bool = False
    """Whether they confirm by email first though the list does not ask for it."""


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
    """Of a posted HTML form: where a visitor goes whose answers have errors."""

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
