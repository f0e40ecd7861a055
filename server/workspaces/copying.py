"""Storing many rows at once: by COPY, where there are enough of them for it to be cheaper."""

from collections.abc import Sequence
from typing import Any

from django.db import connection
from django.db.models import JSONField, Model
from psycopg import sql
from psycopg.types.json import Jsonb

ENOUGH = 40
"""Rows from which COPY costs less than an INSERT."""


def store_all(rows: Sequence[Any]) -> None:
    """Store new rows of one model, in the caller's transaction. Nothing of them may be there yet."""
    if not rows:
        return
    model: type[Model] = type(rows[0])
    if len(rows) < ENOUGH:
        model._default_manager.bulk_create(rows)
        return
    fields = model._meta.concrete_fields
    statement = sql.SQL("COPY {} ({}) FROM STDIN").format(
        sql.Identifier(model._meta.db_table),
        sql.SQL(", ").join(sql.Identifier(str(field.column)) for field in fields),
    )
    with connection.cursor() as cursor, cursor.copy(statement) as copy:
        for row in rows:
            copy.write_row([_value(field, row) for field in fields])
    for row in rows:
        row._state.adding, row._state.db = False, connection.alias


def _value(field: Any, row: Any) -> Any:
    value = field.pre_save(row, add=True)
    if isinstance(field, JSONField):
        return None if value is None else Jsonb(value)
    return value
