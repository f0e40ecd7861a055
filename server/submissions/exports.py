"""Submissions out: CSV (RFC 4180) and JSON lines, of exactly what is filtered, as a stream."""

import json
from collections.abc import Iterator

from django.db.models import QuerySet

from core.reading import answer_to, write_row
from server.workspaces.shapes import Json

from .models import Submission

_CHUNK = 500
_FIXED = ("id", "received", "source", "state", "test", "address", "page")
_MOST_NAMES = 200


def as_json_lines(rows: QuerySet[Submission]) -> Iterator[str]:
    """One JSON object a line, with answers as they were received."""
    for row in _rows(rows):
        answers = [{"name": name, "text": text} for name, text in row.answers]
        yield json.dumps({**_fixed(row), "answers": answers}, ensure_ascii=False) + "\n"


def as_csv(rows: QuerySet[Submission]) -> Iterator[str]:
    """A header and a row each; several answers to one question stand on lines of one cell."""
    names = _names(rows)
    yield write_row((*_FIXED, *names))
    for row in _rows(rows):
        answers = tuple((name, text) for name, text in row.answers)
        fixed = [str(value) for value in _fixed(row).values()]
        yield write_row((*fixed, *(answer_to(answers, name) or "" for name in names)))


def _fixed(row: Submission) -> Json:
    return {
        "id": str(row.pk),
        "received": row.received_at.isoformat(timespec="seconds"),
        "source": row.source.name,
        "state": row.state,
        "test": row.is_test,
        "address": row.subscriber.address if row.subscriber else "",
        "page": row.context.get("page", ""),
    }


def _rows(rows: QuerySet[Submission]) -> Iterator[Submission]:
    ordered = rows.select_related("source", "subscriber").defer("raw", "decision", "signs")
    return ordered.order_by("received_at", "pk").iterator(chunk_size=_CHUNK)


def _names(rows: QuerySet[Submission]) -> list[str]:
    """The questions that any of the rows answers, in the order in which they came first."""
    names: dict[str, None] = {}
    for answers in rows.order_by("received_at", "pk").values_list("answers", flat=True).iterator():
        for name, _ in answers:
            if name not in names and len(names) < _MOST_NAMES:
                names[name] = None
    return list(names)
