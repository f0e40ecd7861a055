"""The form of a source: its questions, and what a visitor's post of them is worth.

Answers are kept exactly as received: pairs of name and text, in the order of the post.
"""

from typing import Literal

from pydantic import Field

from .documents import Frozen, Problem
from .values import Choice, read_choice, read_email, read_yes_no

QuestionType = Literal["email", "name", "text", "choice", "yes_no", "hidden"]
Answers = tuple[tuple[str, str], ...]


class Question(Frozen):
    """One question. `name` is the name of its input, by which its answers are found."""

    id: str
    name: str
    type: QuestionType
    label: str = ""
    help: str = ""
    required: bool = False
    choices: tuple[Choice, ...] = ()
    value: str = ""
    parameter: str = ""
    """For a hidden question: the parameter of the page's address that fills it, if any."""


class Form(Frozen):
    """What a visitor is asked, in order, and the words around it."""

    title: str = ""
    intro: str = ""
    button: str = "Send"
    questions: tuple[Question, ...] = Field(default=(), max_length=100)


def answer_to(answers: Answers, name: str) -> str | None:
    """The answer to the question `name`, the first where there are several, or None."""
    return next((text for key, text in answers if key == name), None)


def check_answers(form: Form, answers: Answers) -> dict[str, Problem]:
    """What the visitor should mend before the form is taken, by the name of the question."""
    found: dict[str, Problem] = {}
    for question in form.questions:
        problem = _check_answer(question, answer_to(answers, question.name) or "")
        if problem:
            found[question.name] = problem.model_copy(update={"place": question.name})
    return found


def _check_answer(question: Question, text: str) -> Problem | None:
    if not text.strip():
        if question.required and question.type != "hidden":
            return Problem(code="answer_missing", sentence=_asked(question), fix="It is needed.")
        return None
    read: object = None
    match question.type:
        case "email":
            read = read_email(text)
        case "choice":
            read = read_choice(text, question.choices)
            if isinstance(read, Problem):
                read = read.model_copy(update={"fix": "Choose one of those offered."})
        case "yes_no":
            read = read_yes_no(text)
    return read if isinstance(read, Problem) else None


def _asked(question: Question) -> str:
    match question.type:
        case "email":
            return "Enter your email address."
        case "choice":
            return "Choose one."
        case "yes_no":
            return "Tick this box to go on."
        case _:
            return f"Enter {question.label.strip().rstrip('?:').lower() or 'an answer'}."
