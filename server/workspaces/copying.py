"""Storing and changing many rows at once, in a statement for each kind of row, however many there are."""

import json
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from django.db import connection
from django.db.models import JSONField, Model
from psycopg import sql
from psycopg.types.json import Jsonb

from .causes import Caused, keep_causes

ENOUGH = 40
"""Rows from which COPY costs less than an INSERT."""


def store_all(rows: Sequence[Any]) -> None:
    """Store new rows of one model, in the caller's transaction. Nothing of them may be there yet."""
    if not rows:
        return
    model: type[Model] = type(rows[0])
    if issubclass(model, Caused):
        keep_causes(rows)
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


def update_all(rows: Sequence[Any], fields: Sequence[str]) -> None:
    """Store these fields of rows of one model that are there: one statement with one parameter, the
    rows as JSON, which costs a fraction of Django's CASE for each row."""
    if not rows:
        return
    model: type[Model] = type(rows[0])
    if issubclass(model, Caused):
        keep_causes(rows)
    columns: list[Any] = [model._meta.pk, *(model._meta.get_field(name) for name in fields)]
    quote = connection.ops.quote_name
    names = [quote(one.column) for one in columns]
    sets = ", ".join(f"{one} = fresh.{one}" for one in names[1:])
    types = ", ".join(f"{quote(one.column)} {one.db_type(connection)}" for one in columns)
    statement = (
        f"UPDATE {quote(model._meta.db_table)} AS row SET {sets} "
        f"FROM jsonb_to_recordset(%s::jsonb) AS fresh ({types}) WHERE row.{names[0]} = fresh.{names[0]}"
    )
    content = [{one.column: getattr(row, one.attname) for one in columns} for row in rows]
    with connection.cursor() as cursor:
        cursor.execute(statement, [json.dumps(content, default=_as_text)])


def _as_text(value: Any) -> str:
    """A key or a time, as PostgreSQL reads it back."""
    return value.isoformat() if isinstance(value, datetime) else str(value)


def _value(field: Any, row: Any) -> Any:
    value = field.pre_save(row, add=True)
    if isinstance(field, JSONField):
        return None if value is None else Jsonb(value)
    return value
