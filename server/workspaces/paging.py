"""Pages of long lists, by key and never by offset."""

import base64
import json
from datetime import datetime
from typing import TypeVar
from uuid import UUID

from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import BooleanField, F, Func, Model, QuerySet, Value
from django.db.models.sql.compiler import SQLCompiler

from .bounds import bounded_moment
from .errors import refuse

PAGE = 50
M = TypeVar("M", bound=Model)


class _Before(Func):
    """Whether a pair stands before another one: one comparison of rows, which an index answers
    whatever the depth is; two comparisons with OR are not."""

    output_field = BooleanField()

    def as_sql(  # type: ignore[override]
        self, compiler: SQLCompiler, connection: BaseDatabaseWrapper, **_: object
    ) -> tuple[str, list[object]]:
        """(time, id) < (edge, pk)"""
        parts = [compiler.compile(one) for one in self.source_expressions]
        one, two, edge, pk = (sql for sql, _ in parts)
        return f"({one}, {two}) < ({edge}, {pk})", [value for _, some in parts for value in some]


def page_by_key(rows: QuerySet[M], time: str, after: str | None) -> tuple[list[M], str | None]:
    """A page of rows, the newest first, paged by key: (time, id), never by offset."""
    if after:
        try:
            moment, pk = json.loads(base64.urlsafe_b64decode(after))
            at = datetime.fromisoformat(moment)
            if at.tzinfo is None:
                raise ValueError("a moment of ours has its zone")
            edge, pk = bounded_moment(at), UUID(pk)
        except (ValueError, TypeError, AttributeError, RecursionError):
            raise refuse(
                "bad_page", "after", "This page is not known.", "Begin at the first page."
            ) from None
        rows = rows.filter(_Before(F(time), F("id"), Value(edge), Value(pk)))
    found = list(rows.order_by(f"-{time}", "-id")[: PAGE + 1])
    if len(found) <= PAGE:
        return found, None
    last = found[PAGE - 1]
    mark = json.dumps([getattr(last, time).isoformat(), str(last.pk)])
    return found[:PAGE], base64.urlsafe_b64encode(mark.encode()).decode()
