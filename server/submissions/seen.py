"""The questions of a source as they came in lately."""

from core.documents import Problem
from core.reading import Answers, Row, SeenQuestion, answers_of_row, seen_questions
from server.sources.models import Source

from .models import FileImport, Submission

LOOKED_AT = 500


def seen_of(source: Source) -> tuple[SeenQuestion, ...]:
    """Every name that came in the last submissions; of a file that was only put in, its headings."""
    rows = Submission.everywhere.filter(source=source, forgotten_at=None).order_by("-received_at")
    came = [
        tuple((name, text) for name, text in answers)
        for answers in rows.values_list("answers", flat=True)[:LOOKED_AT]
    ]
    if not came and source.kind == Source.Kind.FILE:
        # Nothing came yet: the first rows of the newest file say what its values are like.
        came = _first_rows(source)
    found = seen_questions(came) if came else ()
    names = {one.name for one in found}
    more = [name for name in _headings(source) if name not in names]
    return (*found, *(SeenQuestion(name=name, share=0, values=()) for name in more))


def seen_names(source: Source) -> tuple[str, ...]:
    """The names alone."""
    return tuple(one.name for one in seen_of(source))


def _first_rows(source: Source) -> list[Answers]:
    newest = FileImport.everywhere.filter(source=source).order_by("-created_at").first()
    if newest is None:
        return []
    rows = [answers_of_row(tuple(newest.headings), Row.model_validate(one)) for one in newest.start]
    return [one for one in rows if not isinstance(one, Problem)]


def _headings(source: Source) -> list[str]:
    if source.kind == Source.Kind.FILE:
        newest = FileImport.everywhere.filter(source=source).order_by("-created_at").first()
        return list(newest.headings) if newest else []
    if source.kind == Source.Kind.SHEET:
        return list(source.watch.headings)
    return []
