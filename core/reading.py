"""Reading answers into fields: a map of lines, each *question → reader → field*.

An empty answer never erases a stored value. A question nobody maps is listed, never
silent; two lines to one field are an error that pre-flight finds.
"""

from collections.abc import Mapping
from typing import Literal

from .documents import Frozen, Problem
from .folding import near_miss
from .forms import Answers, answer_to
from .people import Catalogue, FieldFacts
from .values import Choice, Kept, NamePart, ReadingOptions, read

Overwrite = Literal["always", "if_empty", "never"]


class ReadLine(Frozen):
    """One line of the map. A line without question or field is not finished yet."""

    id: str
    question: str = ""
    field: str | None = None
    part: NamePart = "whole"
    case_right: bool = False
    overwrite: Overwrite = "always"
    fallback: str = ""


class LineReport(Frozen):
    """What one line made of one submission."""

    line: str
    question: str
    field: str | None = None
    field_key: str | None = None
    received: str | None = None
    value: Kept | None = None
    before: Kept | None = None
    after: Kept | None = None
    changes: bool = False
    note: str = ""
    problem: Problem | None = None


class Reading(Frozen):
    """What the whole map made of one submission."""

    lines: tuple[LineReport, ...]
    unmapped: tuple[str, ...]


def read_answers(
    lines: tuple[ReadLine, ...],
    answers: Answers,
    stored: Mapping[str, Kept],
    catalogue: Catalogue,
    question_choices: Mapping[str, tuple[Choice, ...]],
) -> Reading:
    """Read `answers` by the map, for a person who has `stored` (values by field key).

    `question_choices`: the choices that the form offers, by the name of the question.
    """
    reports: list[LineReport] = []
    now_stored = dict(stored)
    for line in lines:
        report = _read_line(line, answers, now_stored, catalogue, question_choices)
        if report.changes and report.field_key and report.after is not None:
            now_stored[report.field_key] = report.after
        reports.append(report)
    mapped = {line.question for line in lines if line.field}
    unmapped = dict.fromkeys(name for name, _ in answers if name not in mapped)
    return Reading(lines=tuple(reports), unmapped=tuple(unmapped))


def _read_line(
    line: ReadLine,
    answers: Answers,
    stored: Mapping[str, Kept],
    catalogue: Catalogue,
    question_choices: Mapping[str, tuple[Choice, ...]],
) -> LineReport:
    received = answer_to(answers, line.question)
    report = LineReport(line=line.id, question=line.question, field=line.field, received=received)
    target = catalogue.fields.get(line.field or "")
    if target is None:
        return report.model_copy(update={"problem": _no_field(line)})
    before = stored.get(target.key)
    report = report.model_copy(update={"field_key": target.key, "before": before, "after": before})
    if received is None:
        meant = near_miss(line.question, [name for name, _ in answers])
        if meant:
            return report.model_copy(update={"problem": _nearly(line, meant)})
    text = received or ""
    if not text.strip():
        text = line.fallback
    value = read_into(target, text, line, question_choices.get(line.question, ()))
    if isinstance(value, Problem):
        return report.model_copy(update={"problem": value.model_copy(update={"place": line.id})})
    if value == "":
        return report.model_copy(update={"note": "no answer"})
    report = report.model_copy(update={"value": value})
    if before not in (None, "") and line.overwrite != "always":
        return report.model_copy(update={"note": "kept what was there"})
    if line.overwrite == "never":
        return report.model_copy(update={"note": "never written"})
    if value == before:
        return report.model_copy(update={"note": "unchanged"})
    note = "new" if before in (None, "") else "replaces"
    return report.model_copy(update={"after": value, "changes": True, "note": note})


def read_into(
    target: FieldFacts, text: str, line: ReadLine, offered: tuple[Choice, ...]
) -> Kept | Problem:
    """Read `text` as the field `target` keeps it.

    A text field that takes the answer to a choice keeps the label that the visitor saw,
    since a key is meant for rules, not for reading.
    """
    if target.type == "text" and offered and line.part == "whole":
        label = next((one.label for one in offered if one.key == text), None)
        text = label or text
    options = ReadingOptions(part=line.part, case_right=line.case_right, choices=target.choices)
    value = read(target.type, text, options)
    if isinstance(value, Problem) and value.code == "unknown_choice":
        # The form's key may be spelt otherwise than the field's; its label decides then.
        label = next((one.label for one in offered if one.key == text), None)
        if label:
            return read(target.type, label, options)
    return value


def _no_field(line: ReadLine) -> Problem:
    if line.field is None:
        return Problem(
            code="line_unfinished",
            place=line.id,
            sentence=f"No field is chosen for “{line.question}”.",
            fix="Choose a field, or make one.",
        )
    return Problem(
        code="field_gone",
        place=line.id,
        sentence=f"The field that “{line.question}” goes to is gone.",
        fix="Choose another field, or make it again.",
    )


def _nearly(line: ReadLine, meant: str) -> Problem:
    return Problem(
        code="near_miss",
        place=line.id,
        sentence=f"Nothing came by the name “{line.question}”, but “{meant}” did.",
        fix=f"Change the line to “{meant}”.",
    )
