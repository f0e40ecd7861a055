"""What a source's questions look like in use, and lines of a map proposed from it."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from ..documents import Frozen, Problem, bare_name, folded
from ..people import FieldFacts
from ..values import Choice, FieldType, ReadingOptions, read
from .forms import Answers, Input, Question, inputs_of
from .lines import ReadLine

_MOST_CHOICES = 12
_ENOUGH = 0.9
"""The share of the values seen that must read as a type before it is proposed."""

# What the built-in fields are called on forms (common practice), folded and bare.
_MEANINGS: Mapping[str, frozenset[str]] = {
    "email": frozenset(
        map(bare_name, ("email", "e-mail", "mail", "email address", "e-mail address", "your email"))
    ),
    "first_name": frozenset(
        map(bare_name, ("first name", "given name", "forename", "vorname", "prénom", "nombre"))
    ),
    "last_name": frozenset(
        map(bare_name, ("last name", "surname", "family name", "nachname", "nom", "apellido"))
    ),
}
_FULL_NAME = frozenset(map(bare_name, ("name", "full name", "your name")))
_TYPES_OF: Mapping[str, FieldType] = {
    "email": "email",
    "long_text": "long_text",
    "phone": "phone",
    "country": "country",
    "date": "date",
    "number": "number",
    "choice": "choice",
    "choices": "choices",
    "yes_no": "yes_no",
    "url": "url",
}


class SeenQuestion(Frozen):
    """A question as it was answered lately: how often it came, and typical answers."""

    name: str
    share: float
    """Of the submissions looked at: from 0 to 1."""
    values: tuple[str, ...]
    distinct: int = 0
    field_type: FieldType = "text"
    """What most of its answers read as."""


class Proposal(Frozen):
    """A line that would read a question, and where no field fits, the one to make for it."""

    line: ReadLine
    question: str
    field_label: str
    make: FieldType | None = None
    choices: tuple[Choice, ...] = ()


def seen_questions(submissions: Sequence[Answers]) -> tuple[SeenQuestion, ...]:
    """Every name that came, in the order in which they came first."""
    came: Counter[str] = Counter()
    values: dict[str, Counter[str]] = {}
    for answers in submissions:
        came.update({name for name, _ in answers})
        for name, text in answers:
            counted = values.setdefault(name, Counter())
            if text.strip():
                counted[text.strip()[:200]] += 1
    return tuple(
        SeenQuestion(
            name=name,
            share=came[name] / len(submissions),
            values=tuple(text for text, _ in counted.most_common(_MOST_CHOICES)),
            distinct=len(counted),
            field_type=type_of(name, counted),
        )
        for name, counted in values.items()
    )


def type_of(name: str, values: Mapping[str, int]) -> FieldType:
    """The type that most of the values read as, the narrowest first; text where none does."""
    total = sum(values.values())
    if not total:
        return "text"
    meant = bare_name(name)
    order: tuple[FieldType, ...] = ("email", "url", "date", "yes_no", "number")
    if "phone" in meant or "tel" in meant or "mobile" in meant:
        order = ("phone", *order)
    if "country" in meant or "land" in meant:
        order = ("country", *order)
    if "language" in meant or "sprache" in meant:
        order = ("language", *order)
    for field_type in order:
        options = ReadingOptions(date_order="day_first", country="GB")
        if field_type == "url" and not any("://" in text for text in values):
            continue
        reads = sum(
            count
            for text, count in values.items()
            if not isinstance(read(field_type, text, options), Problem)
        )
        if reads >= total * _ENOUGH:
            return field_type
    if any(len(text) > 150 or "\n" in text for text in values):
        return "long_text"
    if 2 <= len(values) <= _MOST_CHOICES and total >= 5 * len(values):
        return "choice"
    return "text"


def propose(
    names: Mapping[str, str],
    questions: Iterable[Question],
    seen: Iterable[SeenQuestion],
    fields: Iterable[FieldFacts],
    taken: frozenset[str] = frozenset(),
) -> tuple[Proposal, ...]:
    """A line for every question in `names` (with its label) that has none yet, but for consent: what
    somebody agreed to is kept as evidence and as membership, and no field of theirs.

    `taken` are the ids of fields that a line writes to already; each field is proposed once.
    """
    asked = {box.name: (one, box) for one in questions for box in inputs_of(one)}
    seen_by = {one.name: one for one in seen}
    known = [one for one in fields if one.id not in taken]
    found: list[Proposal] = []
    for number, (name, label) in enumerate(names.items(), start=1):
        question, box = asked.get(name, (None, None))
        if question is not None and question.type == "consent":
            continue
        lately = seen_by.get(name)
        for proposal in _for_question(f"p{number}", name, label, question, box, lately, known):
            known = [one for one in known if one.id != proposal.line.field]
            found.append(proposal)
    return tuple(found)


def name_part_of(question: Question) -> Literal["", "first", "last"]:
    """Which part of a name a question in one box asks for, by what it is called; empty: the whole."""
    meant = {bare_name(question.name), bare_name(question.label)}
    if question.type == "name" and meant & _MEANINGS["first_name"]:
        return "first"
    if question.type == "name" and meant & _MEANINGS["last_name"]:
        return "last"
    return ""


def _for_question(
    line_id: str,
    name: str,
    label: str,
    question: Question | None,
    box: Input | None,
    lately: SeenQuestion | None,
    fields: list[FieldFacts],
) -> list[Proposal]:
    by_key = {one.key: one for one in fields}
    line = ReadLine(id=line_id, question=name)

    def to(key: str, **change: object) -> list[Proposal]:
        target = by_key.get(key)
        if target is None:
            return []
        filled = line.model_copy(update={"id": f"{line_id}{key[:1]}", "field": target.id, **change})
        return [Proposal(line=filled, question=label, field_label=target.label)]

    meanings = {bare_name(name), bare_name(label), bare_name(name.rpartition(".")[2])}
    is_name = question is not None and question.type == "name" and question.boxes == 1
    if question is not None and question.type == "email":
        return to("email")
    if question is not None and question.type == "name" and box is not None and box.part:
        # A name in two boxes: each has its own field.
        return to(f"{box.part}_name", case_right=True)
    for key, known in _MEANINGS.items():
        if known & meanings and key in by_key and (key != "email" or question is None):
            extra = {"case_right": True} if key != "email" else {}
            part = {"part": key.removesuffix("_name")} if is_name and key != "email" else {}
            return to(key, **extra, **part)
    if is_name or (question is None and _FULL_NAME & meanings):
        return to("first_name", part="first", case_right=True) + to(
            "last_name", part="last", case_right=True
        )
    if question is None and lately and lately.field_type == "email" and "email" in by_key:
        return to("email")
    for one in fields:
        if bare_name(one.key) in meanings or bare_name(one.label) in meanings:
            return to(one.key)
    return [_new_field(line, name, label, question, box, lately)]


def _new_field(
    line: ReadLine,
    name: str,
    label: str,
    question: Question | None,
    box: Input | None,
    lately: SeenQuestion | None,
) -> Proposal:
    made: FieldType = lately.field_type if lately else "text"
    choices: tuple[Choice, ...] = ()
    if question is not None:
        made = _TYPES_OF.get((box and box.part) or question.type, "text")
        choices = question.choices
    elif made == "choice" and lately:
        choices = tuple(Choice(key=folded(text), label=text) for text in lately.values)
    if made in ("choice", "choices") and not choices:
        made = "text"
    if made == "email":
        made = "text"
    words = label if label != name else name.replace("_", " ").replace(".", " ").replace("-", " ")
    words = " ".join(words.split()).rstrip("?:")
    return Proposal(
        line=line,
        question=label,
        field_label=words[:1].upper() + words[1:80],
        make=made,
        choices=choices,
    )
