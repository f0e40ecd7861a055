"""Pages of long lists, by key and never by offset."""

import base64
import json
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import BooleanField, F, Func, QuerySet, Value

from .bounds import bounded_moment
from .errors import refuse

PAGE = 50


class _Before(Func):
    """Whether a pair stands before another one: one comparison of rows, which an index answers
    whatever the depth is; two comparisons with OR are not."""

    output_field = BooleanField()

    def as_sql(  # type: ignore[override]
        self, compiler: Any, connection: Any, **_: Any
    ) -> tuple[str, list[Any]]:
        """(time, id) < (edge, pk)"""
        parts = [compiler.compile(one) for one in self.source_expressions]
        one, two, edge, pk = (sql for sql, _ in parts)
        return f"({one}, {two}) < ({edge}, {pk})", [value for _, some in parts for value in some]


def page_by_key(rows: QuerySet[Any], time: str, after: str | None) -> tuple[list[Any], str | None]:
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
