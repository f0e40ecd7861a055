"""Pages of long lists, by key and never by offset."""

import base64
import json
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import Q, QuerySet

from .errors import refuse

PAGE = 50


def page_by_key(rows: QuerySet[Any], time: str, after: str | None) -> tuple[list[Any], str | None]:
    """A page of rows, the newest first, paged by key: (time, id), never by offset."""
    if after:
        try:
            moment, pk = json.loads(base64.urlsafe_b64decode(after))
            edge, pk = datetime.fromisoformat(moment), UUID(pk)
        except (ValueError, TypeError):
            raise refuse(
                "bad_page", "after", "This page is not known.", "Begin at the first page."
            ) from None
        rows = rows.filter(Q(**{f"{time}__lt": edge}) | Q(**{time: edge, "id__lt": pk}))
    found = list(rows.order_by(f"-{time}", "-id")[: PAGE + 1])
    if len(found) <= PAGE:
        return found, None
    last = found[PAGE - 1]
    mark = json.dumps([getattr(last, time).isoformat(), str(last.pk)])
    return found[:PAGE], base64.urlsafe_b64encode(mark.encode()).decode()
