"""The questions of a source as they came in lately."""

from core.proposals import SeenQuestion, seen_questions

from .models import FileImport, Source, Submission

LOOKED_AT = 500


def seen_of(source: Source) -> tuple[SeenQuestion, ...]:
    """Every name that came in the last submissions; of a file that was only put in, its headings."""
    rows = Submission.everywhere.filter(source=source, forgotten_at=None).order_by("-received_at")
    came = [
        tuple((name, text) for name, text in answers)
        for answers in rows.values_list("answers", flat=True)[:LOOKED_AT]
    ]
    found = seen_questions(came) if came else ()
    names = {one.name for one in found}
    more = [name for name in _headings(source) if name not in names]
    return (*found, *(SeenQuestion(name=name, share=0, values=()) for name in more))


def seen_names(source: Source) -> tuple[str, ...]:
    """The names alone."""
    return tuple(one.name for one in seen_of(source))


def _headings(source: Source) -> list[str]:
    if source.kind == Source.Kind.FILE:
        newest = FileImport.everywhere.filter(source=source).order_by("-created_at").first()
        return list(newest.headings) if newest else []
    if source.kind == Source.Kind.SHEET:
        return list(source.watch.headings)
    return []
