"""The form of a source: its questions, and what a visitor's post of them is worth.

Answers are kept exactly as received: pairs of name and text, in the order of the post.
"""

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..documents import Frozen, Problem
from ..values import (
    POSTAL_PARTS,
    Choice,
    is_blank,
    missing_parts,
    read_choice,
    read_choices,
    read_country,
    read_date,
    read_email,
    read_number,
    read_phone,
    read_url,
    read_yes_no,
)
from ..wording import OwnWords

QuestionType = Literal[
    "email",
    "name",
    "text",
    "long_text",
    "phone",
    "country",
    "date",
    "number",
    "choice",
    "choices",
    "yes_no",
    "consent",
    "address",
    "url",
    "hidden",
]
Answers = tuple[tuple[str, str], ...]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$")]

POSTAL_LABELS = {
    "street": "Street and number",
    "city": "City",
    "region": "Region or state",
    "postal_code": "Postal code",
    "country": "Country",
}


class Question(Frozen):
    """One question. `name` is the name of its input, by which its answers are found."""

    id: str
    name: str
    type: QuestionType
    label: str = ""
    help: str = ""
    required: bool = False
    choices: tuple[Choice, ...] = ()
    look: Literal["list", "drop_down", "buttons"] = "list"
    """How choices are offered: one below the other, as a drop-down, or as buttons."""
    boxes: Literal[1, 2] = 1
    """Of a name: one box for all of it, or one for the first and one for the last name."""
    country: str = ""
    """Of phone numbers that name none (alpha-2); the workspace's where it is empty."""
    value: str = ""
    """What a hidden question always holds, or what another one begins with."""
    parameter: str = ""
    """The parameter of the page's address that fills it, if any."""


class FormStyle(Frozen):
    """How a form looks. Without one it follows the visitor's light or dark."""

    paper: Colour = "#FFFFFF"
    ink: Colour = "#22282B"
    accent: Colour = "#1D5B4F"
    corners: int = Field(default=4, ge=0, le=24)
    """Radius in pixels."""
    font: Literal["plain", "legible", "serif", "mono"] = "plain"


class PopUp(Frozen):
    """When a form that is shown as a pop-up opens, and when not again."""

    opens: Literal["seconds", "scroll", "leaving", "button"] = "seconds"
    after: int = Field(default=8, ge=0, le=600)
    """Seconds on the page, or per cent of it scrolled."""
    button: str = "Get the guide"
    not_again: int = Field(default=30, ge=0, le=365)
    """Days until the same browser is shown it again."""


class Form(Frozen):
    """What a visitor is asked, in order, the words around it, and the ways to show it."""

    title: str = ""
    intro: str = ""
    button: str = "Send"
    language: str = Field(default="", max_length=35)
    """BCP 47, of these words and of those around them; empty: that of the workspace."""
    words: OwnWords = {}
    """Its own words for the fixed texts around the questions (`FORM_TEXTS`)."""
    questions: tuple[Question, ...] = Field(default=(), max_length=100)
    style: FormStyle | None = None
    picture: str | None = None
    picture_says: str = ""
    """What the picture shows, for those who do not see it; empty where it only adorns."""
    pop_up: PopUp = PopUp()
    shared_screen: bool = False
    """Whether it may be opened on a screen that visitors share."""

    @cached_property
    def names(self) -> dict[str, str]:
        """Every name that the form posts, with how people read it."""
        named: dict[str, str] = {}
        for question in self.questions:
            boxes = inputs_of(question)
            for box in boxes:
                label = question.label or question.name
                named[box.name] = f"{label}: {box.label.lower()}" if len(boxes) > 1 else label
        return named

    @cached_property
    def choices(self) -> dict[str, tuple[Choice, ...]]:
        """What each question offers, by its name."""
        return {question.name: question.choices for question in self.questions}


class Input(Frozen):
    """One box of a question: its name in the post, and what stands beside it."""

    name: str
    label: str
    part: str = ""


def inputs_of(question: Question) -> tuple[Input, ...]:
    """The boxes of a question: one, but for a name in two boxes and an address."""
    label = question.label or question.name
    if question.type == "name" and question.boxes == 2:
        return (
            Input(name=f"{question.name}.first", label="First name", part="first"),
            Input(name=f"{question.name}.last", label="Last name", part="last"),
        )
    if question.type == "address":
        return tuple(
            Input(name=f"{question.name}.{part}", label=POSTAL_LABELS[part], part=part)
            for part in POSTAL_PARTS
        )
    return (Input(name=question.name, label=label),)


def shown_answers(form: Form, answers: Answers) -> tuple[tuple[str, str], ...]:
    """The answers as people read them: labels for the names of questions and the keys of choices."""
    labels = form.names
    choices = {
        (question.name, one.key): one.label
        for question in form.questions
        for one in question.choices
    }
    return tuple(
        (labels.get(name, name), choices.get((name, text), text)) for name, text in answers
    )


def answer_to(answers: Answers, name: str) -> str | None:
    """The answer to the question `name`, or None.

    Several of one name (boxes that were ticked) are one text, one on each line.
    """
    found = [text for key, text in answers if key == name]
    return "\n".join(found) if found else None


def check_answers(form: Form, answers: Answers, country: str = "") -> dict[str, Problem]:
    """What the visitor has to fix before the form is taken, by the name of the input.

    `country` (alpha-2) is that of phone numbers which name none, where a question says nothing.
    """
    found: dict[str, Problem] = {}
    for question in form.questions:
        given = {box.name: answer_to(answers, box.name) or "" for box in inputs_of(question)}
        for name, problem in _check_question(question, given, country):
            found.setdefault(name, problem.model_copy(update={"place": name}))
    return found


def _check_question(
    question: Question, given: dict[str, str], country: str
) -> list[tuple[str, Problem]]:
    if question.type == "hidden":
        return []
    if question.type == "address":
        return _check_address(question, given)
    found = []
    for name, text in given.items():
        if is_blank(text):
            last_name = name.endswith(".last") and question.boxes == 2
            if question.required and not last_name:
                found.append((name, _missing(question)))
            continue
        problem = _check_answer(question, text, country)
        if problem:
            found.append((name, problem))
    return found


def _check_address(question: Question, given: dict[str, str]) -> list[tuple[str, Problem]]:
    parts = {name.rpartition(".")[2]: text.strip() for name, text in given.items()}
    if not question.required and not any(parts.values()):
        return []
    found = [
        (
            f"{question.name}.{part}",
            Problem(
                code="address_incomplete",
                sentence=f"Enter the {POSTAL_LABELS[part].lower()}.",
                fix="An address is needed whole.",
            ),
        )
        for part in missing_parts(parts)
    ]
    country = parts.get("country", "")
    read = read_country(country) if country else ""
    return [*found, (f"{question.name}.country", read)] if isinstance(read, Problem) else found


def _check_answer(question: Question, text: str, country: str) -> Problem | None:
    read: object = None
    match question.type:
        case "email":
            read = read_email(text)
        case "phone":
            read = read_phone(text, question.country or country)
        case "country":
            read = read_country(text)
        case "date":
            read = read_date(text)
        case "number":
            read = read_number(text)
        case "url":
            read = read_url(text)
        case "choice" | "choices":
            one = question.type == "choice"
            read = (read_choice if one else read_choices)(text, question.choices)
            if isinstance(read, Problem):
                read = read.model_copy(update={"fix": "Choose from those offered."})
        case "yes_no" | "consent":
            read = read_yes_no(text)
            if read is False and question.required:
                return _missing(question)
    return read if isinstance(read, Problem) else None


def _missing(question: Question) -> Problem:
    return Problem(code="answer_missing", sentence=_asked(question), fix="It is needed.")


def _asked(question: Question) -> str:
    match question.type:
        case "email":
            return "Enter your email address."
        case "choice":
            return "Choose one."
        case "choices":
            return "Choose at least one."
        case "yes_no" | "consent":
            return "Tick this box to go on."
        case _:
            return f"Enter {question.label.strip().rstrip('?:').lower() or 'an answer'}."
