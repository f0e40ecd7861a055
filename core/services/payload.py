"""What somebody's values and answers become over there: the map's lines, each with its value or its
problem, and whether the whole may go."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal

from ..documents import Frozen, Problem, folded, value
from ..values import Choice, FieldType, ReadingOptions, is_blank, read
from .fields import FarField, FarType

Take = Literal["field", "answer", "fixed"]

_OURS: dict[FarType, FieldType] = {
    "text": "long_text",
    "email": "email",
    "phone": "phone",
    "number": "number",
    "date": "date",
    "yes_no": "yes_no",
    "choice": "choice",
    "choices": "choices",
    "country": "country",
    "url": "url",
}


class FarLine(Frozen):
    """One line of the map: a field over there, and what it is filled with."""

    id: str
    to: str = ""
    """The key over there."""
    take: Take = "field"
    what: str = ""
    """The id of a field, the name of a question, or the text itself."""
    fallback: str = ""
    """Where there is nothing."""


@value
class Given:
    """A value as this side has it."""

    raw: tuple[str, ...] = ()
    """As it is kept; several of several choices."""
    shown: str = ""
    """As people read it."""
    country: str = ""
    """Of phone numbers that name none."""

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing to hand over."""
        return all(is_blank(one) for one in self.raw)


@value
class Filled:
    """What a line made of somebody."""

    line: str
    to: str
    label: str
    shown: str = ""
    """As it would be sent, in words; empty where it goes without."""
    value: Any = None
    problem: Problem | None = None


@value
class Payload:
    """All lines together."""

    lines: tuple[Filled, ...] = ()
    values: Mapping[str, Any]
    """By key, without what had a problem."""
    missing: tuple[str, ...] = ()
    """Labels of required fields that have no value: without them the other side takes nobody."""
    problems: tuple[Problem, ...] = ()

    @property
    def pairs(self) -> list[dict[str, Any]]:
        """As a list, for services that take it so."""
        return [{"field": key, "value": one} for key, one in self.values.items()]


def fill_lines(
    lines: Sequence[FarLine],
    given: Mapping[str, Given],
    fields: Iterable[FarField],
    required: Iterable[str] = (),
) -> Payload:
    """Fill the lines with what is `given` for each by its id; `required`: keys of fields that the
    operation asks for besides those that are required anyway."""
    known = {one.key: one for one in fields}
    filled = [_filled(line, given.get(line.id, Given()), known.get(line.to)) for line in lines]
    filled = list(_whole_groups(filled, known))
    values = {one.to: one.value for one in filled if one.value is not None}
    asked = [one for one in known.values() if one.required and not one.group]
    asked += [known[key] for key in required if key in known and known[key] not in asked]
    missing = tuple(one.shown for one in asked if one.key not in values)
    return Payload(
        lines=tuple(filled),
        values=values,
        missing=missing,
        problems=tuple(one.problem for one in filled if one.problem is not None),
    )


def _filled(line: FarLine, given: Given, field: FarField | None) -> Filled:
    if field is None:
        label = line.to or "a field that is not chosen"
        return Filled(
            line=line.id,
            to=line.to,
            label=label,
            problem=Problem(
                code="far_field_gone",
                place=line.id,
                sentence=f"The service has no field {label}.",
                fix="Choose another field, or make it there.",
            ),
        )
    if given.is_empty and line.fallback:
        given = Given(raw=(line.fallback,), shown=line.fallback, country=given.country)
    if given.is_empty:
        return Filled(line=line.id, to=field.key, label=field.shown)
    found = to_far(given, field)
    if isinstance(found, Problem):
        problem = found.model_copy(update={"place": line.id})
        return Filled(line=line.id, to=field.key, label=field.shown, problem=problem)
    shown = "" if found is None else in_words(found, field)
    return Filled(line=line.id, to=field.key, label=field.shown, shown=shown, value=found)


def to_far(given: Given, field: FarField) -> Any:
    """A value as the field over there takes it, None where it comes to nothing, or the problem with
    it."""
    options = ReadingOptions(
        choices=tuple(Choice(key=one.value, label=one.shown, synonyms=()) for one in field.choices),
        country=given.country,
    )
    text = "\n".join(given.raw)
    if field.type == "text":
        text = given.shown or text
    if field.type in ("choice", "choices") and not field.choices:
        text = given.shown or text
        found: Any = list(given.raw) if field.type == "choices" else text
    else:
        found = read(_OURS[field.type], text, options)
        if isinstance(found, Problem) and given.shown and given.shown != text:
            # By its label, where its key means nothing over there.
            by_label = read(_OURS[field.type], _labels(given.shown, field), options)
            found = found if isinstance(by_label, Problem) else by_label
    if isinstance(found, Problem):
        return _refused(found, field, given)
    if found in ("", ()):
        return None
    if field.type == "date" and str(found).startswith("--"):
        return Problem(
            code="no_year",
            sentence=f"{field.shown} takes a date with its year, and this is {given.shown or found}.",
            fix="Map a field of text instead, or correct the date.",
        )
    if field.longest is not None and isinstance(found, str) and len(found) > field.longest:
        return Problem(
            code="too_long",
            sentence=f"{field.shown} takes {field.longest} characters, and this has {len(found)}.",
            fix="Shorten the value, or map something shorter.",
        )
    match field.type:
        case "number":
            number = float(found)
            return int(number) if number.is_integer() else number
        case "choices":
            return list(found)
        case _:
            return found


def _labels(shown: str, field: FarField) -> str:
    return (
        "\n".join(part.strip() for part in shown.split(",")) if field.type == "choices" else shown
    )


def _refused(problem: Problem, field: FarField, given: Given) -> Problem:
    if field.type in ("choice", "choices"):
        names = ", ".join(one.shown for one in field.choices[:6])
        return Problem(
            code="no_such_choice",
            sentence=f"{field.shown} does not allow “{given.shown or given.raw[0]}”; it allows {names}.",
            fix="Add the choice there, or map another field.",
        )
    return Problem(
        code="wrong_type",
        sentence=f"{field.shown} takes {_TYPES[field.type]}. {problem.sentence}",
        fix="Correct the value, or map another field.",
    )


_TYPES: dict[FarType, str] = {
    "text": "text",
    "email": "an email address",
    "phone": "a phone number",
    "number": "a number",
    "date": "a date",
    "yes_no": "yes or no",
    "choice": "a choice",
    "choices": "choices",
    "country": "a country",
    "url": "a web address",
}


def type_in_words(kind: FarType) -> str:
    """What a field of this type takes, with its article."""
    return _TYPES[kind]


def in_words(found: Any, field: FarField) -> str:
    """A value for over there as people read it."""
    if isinstance(found, bool):
        return "yes" if found else "no"
    labels = {one.value: one.shown for one in field.choices}
    if isinstance(found, list):
        return ", ".join(labels.get(str(one), str(one)) for one in found)
    return labels.get(str(found), str(found))


def _whole_groups(filled: Sequence[Filled], known: Mapping[str, FarField]) -> Iterable[Filled]:
    """The lines; parts of a group whose required parts are not all there go without a value."""
    has = {one.to for one in filled if one.value is not None}
    mapped = {one.to for one in filled}
    lacking: dict[str, list[str]] = {}
    for field in known.values():
        if field.group and field.required and field.key not in has:
            lacking.setdefault(field.group, []).append(field.shown)
    for one in filled:
        target = known.get(one.to)
        group = target.group if target else ""
        parts = {other.key for other in known.values() if other.group == group}
        if (
            not group
            or group not in lacking
            or not (parts & has & mapped)
            or one.problem is not None
        ):
            yield one
        else:
            names = lacking[group]
            verb = "is" if len(names) == 1 else "are"
            sentence = f"The {folded(group)} is incomplete: {', '.join(names)} {verb} missing."
            yield Filled(
                line=one.line,
                to=one.to,
                label=one.label,
                problem=Problem(
                    code="incomplete_group",
                    place=one.line,
                    sentence=sentence,
                    fix="Map the missing parts; until then it goes without them all.",
                ),
            )
