"""A form as its template shows it: each question with its boxes, answers and problems."""

from dataclasses import dataclass, field

from django.utils.translation import get_language

from core.deciding import RouteDocument
from core.documents import Problem
from core.reading import Answers, Form, Question, answer_to, inputs_of, name_part_of
from core.values import country_names, read_country, read_yes_no
from server.workspaces.shapes import Json

from .visitor_words import for_visitor, label_of


@dataclass(frozen=True)
class Box:
    """One box of a question."""

    id: str
    name: str
    label: str
    kind: str
    """The type of the input, "long_text" or "country"."""
    answer: str
    problem: str
    """What the visitor has to correct; empty where it is right."""
    autocomplete: str = ""
    most: int = 500


@dataclass(frozen=True)
class ShownQuestion:
    """A question with its boxes; `ticked` are the keys of the choices that are chosen."""

    question: Question
    boxes: list[Box]
    problem: str
    ticked: list[str] = field(default_factory=list)
    is_ticked: bool = False


# HTML's autofill fields (WHATWG HTML 4.10.18.7).
_AUTOFILL = {
    "email": "email",
    "name": "name",
    "first": "given-name",
    "last": "family-name",
    "phone": "tel",
    "country": "country",
    "url": "url",
    "street": "street-address",
    "city": "address-level2",
    "region": "address-level1",
    "postal_code": "postal-code",
}
_KINDS = {
    "email": "email",
    "phone": "tel",
    "date": "date",
    "url": "url",
    "country": "country",
    "long_text": "long_text",
}
_MOST = {"email": 254, "long_text": 10_000, "phone": 40, "url": 2000}


def shown_form(route: RouteDocument, pairs: Answers, problems: dict[str, Problem]) -> Json:
    """What the templates of a form need, whatever page it stands on."""
    form: Form = route.form
    words = {name: for_visitor(one, form) for name, one in problems.items()}
    shown = [_shown(question, pairs, words) for question in form.questions]
    return {
        "form": form,
        "questions": shown,
        "problems": [(box.id, box.problem) for one in shown for box in one.boxes if box.problem],
        "wordings": [one.wording for one in route.consent if one.wording and not one.question],
        "countries": list(country_names(get_language() or "en").items())
        if any(one.type in ("country", "address") for one in form.questions)
        else [],
    }


def _shown(question: Question, pairs: Answers, problems: dict[str, str]) -> ShownQuestion:
    boxes = [
        _box(question, one.name, label_of(one), one.part, pairs, problems)
        for one in inputs_of(question)
    ]
    answer = answer_to(pairs, question.name) or ""
    return ShownQuestion(
        question=question,
        boxes=boxes,
        problem=next((one.problem for one in boxes if one.problem), ""),
        ticked=answer.split("\n"),
        is_ticked=read_yes_no(answer) is True and question.type in ("yes_no", "consent"),
    )


def _box(
    question: Question,
    name: str,
    label: str,
    part: str,
    pairs: Answers,
    problems: dict[str, str],
) -> Box:
    kind = _KINDS.get("country" if part == "country" else question.type, "text")
    answer = answer_to(pairs, name) or ""
    if kind == "country":
        read = read_country(answer) if answer else ""
        answer = read if isinstance(read, str) else ""
    return Box(
        id=f"{question.id}-{part}" if part else question.id,
        name=name,
        label=label,
        kind=kind,
        answer=answer,
        problem=problems.get(name, ""),
        autocomplete=_AUTOFILL.get(part or name_part_of(question) or question.type, ""),
        most=_MOST.get(question.type, 500),
    )
