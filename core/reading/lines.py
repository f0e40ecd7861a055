"""Reading answers into fields: a map of lines, each *question(s) → reader → field*.

An empty answer never erases a stored value, unless the line says so. A question nobody
maps is listed, never silent; two lines to one field are an error that pre-flight finds.
"""

from collections.abc import Mapping
from typing import Literal, NamedTuple

from ..documents import Frozen, Problem, near_miss, value
from ..people import Catalogue, FieldFacts
from ..values import Choice, DateOrder, DecimalMark, Kept, NamePart, ReadingOptions, is_blank, read
from .forms import Answers, answer_to

Overwrite = Literal["always", "if_empty", "never"]

CONTEXT = {
    "@page": "Page of the form",
    "@title": "Title of that page",
    "@referrer": "Page they came from",
    "@source": "Name of the source",
    "@received": "Received at",
    "@ip": "IP address",
}
"""What is known of a submission besides its answers; each is a question too. The IP address is known only
where the workspace keeps it."""
PARAMETER = "@parameter."
"""Begins the name of a question that a parameter of the page's address answers."""


class ReadLine(Frozen):
    """One line of the map. A line without question or field is not finished yet."""

    id: str
    question: str = ""
    also: tuple[str, ...] = ()
    """Further questions, whose answers follow with a space between."""
    constant: str = ""
    """What a line without a question always writes."""
    field: str | None = None
    part: NamePart = "whole"
    case_right: bool = False
    overwrite: Overwrite = "always"
    erases: bool = False
    """Whether an empty answer empties the field."""
    fallback: str = ""
    country: str = ""
    date_order: DateOrder = "unstated"
    decimal_mark: DecimalMark = "."
    yes_words: tuple[str, ...] = ()
    no_words: tuple[str, ...] = ()


@value
class LineReport:
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


class Reading(NamedTuple):
    """What each line of the map made of one submission, and the questions that nobody maps."""

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
    mapped = {name for line in lines if line.field for name in (line.question, *line.also)}
    names = dict.fromkeys(name for name, _ in answers if not name.startswith("@"))
    return Reading(tuple(reports), tuple(name for name in names if name not in mapped))


def received_by(line: ReadLine, answers: Answers) -> str | None:
    """What the questions of a line were answered, joined; None where none of them came."""
    if not line.question:
        return line.constant or None
    if not line.also:
        return answer_to(answers, line.question)
    found = [answer_to(answers, name) for name in (line.question, *line.also)]
    if all(text is None for text in found):
        return None
    return " ".join(text for text in found if text and text.strip())


def _read_line(
    line: ReadLine,
    answers: Answers,
    stored: Mapping[str, Kept],
    catalogue: Catalogue,
    question_choices: Mapping[str, tuple[Choice, ...]],
) -> LineReport:
    received = received_by(line, answers)
    target = catalogue.fields.get(line.field or "")
    before = stored.get(target.key) if target else None
    written = _Written(after=before)
    found = _no_field(line) if target is None else _not_there(line, received, answers)
    if target is not None and found is None:
        offered = question_choices.get(line.question, ())
        read_as = read_into(target, received or "", line, offered, catalogue.country)
        if isinstance(read_as, Problem):
            found = read_as.model_copy(update={"place": line.id})
        else:
            written = _written(line, read_as, before)
    return LineReport(
        line=line.id,
        question=line.question,
        field=line.field,
        field_key=target.key if target else None,
        received=received,
        value=written.value,
        before=before,
        after=written.after,
        changes=written.changes,
        note=written.note,
        problem=found,
    )


def _not_there(line: ReadLine, received: str | None, answers: Answers) -> Problem | None:
    """Nothing came by the name of the line's question, but by one that is nearly the same."""
    if received is not None or not line.question:
        return None
    meant = near_miss(line.question, [name for name, _ in answers])
    return _nearly(line, meant) if meant else None


class _Written(NamedTuple):
    """What becomes of a value that was read."""

    after: Kept | None
    value: Kept | None = None
    changes: bool = False
    note: str = ""


def _written(line: ReadLine, value: Kept, before: Kept | None) -> _Written:
    """What becomes of a value that was read, by the line's overwrite rule."""
    had = before not in (None, "", ())
    if value in ("", ()):
        if not (line.erases and had and line.overwrite == "always"):
            return _Written(before, note="no answer")
        return _Written("", None, changes=True, note="erased")
    if had and line.overwrite != "always":
        return _Written(before, value, note="kept what was there")
    if line.overwrite == "never":
        return _Written(before, value, note="never written")
    if value == before:
        return _Written(before, value, note="unchanged")
    return _Written(value, value, changes=True, note="replaces" if had else "new")


def read_into(
    target: FieldFacts,
    text: str,
    line: ReadLine,
    offered: tuple[Choice, ...],
    country: str = "",
) -> Kept | Problem:
    """Read `text`, or the fallback where it is empty, as the field `target` keeps it.

    A text field that takes the answer to a choice keeps the label that the visitor saw,
    since a key is meant for rules, not for reading.
    """
    if is_blank(text):
        text = line.fallback
    original = text
    if offered:
        labels = {one.key: one.label for one in offered}
        original = "\n".join(labels.get(one, one) for one in text.split("\n"))
    if target.type in ("text", "long_text") and offered and line.part == "whole":
        text = original.replace("\n", ", ")
    # An address, which every submission has, is read in one way only.
    options = _WHOLE if target.type == "email" else _options(target, line, country)
    value = read(target.type, text, options)
    if isinstance(value, Problem) and value.code == "unknown_choice" and original != text:
        # The form's key may be spelt otherwise than the field's; its label decides then.
        return read(target.type, original, options)
    return value


_WHOLE = ReadingOptions()


def _options(target: FieldFacts, line: ReadLine, country: str) -> ReadingOptions:
    return ReadingOptions(
        part=line.part,
        case_right=line.case_right,
        choices=target.choices,
        country=line.country or country,
        date_order=line.date_order,
        decimal_mark=line.decimal_mark,
        yes_words=line.yes_words,
        no_words=line.no_words,
    )


def _no_field(line: ReadLine) -> Problem:
    if line.field is None:
        return Problem(
            code="line_unfinished",
            place=line.id,
            sentence=f"No field is chosen for “{line.question}”."
            if line.question
            else "No field is chosen.",
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
