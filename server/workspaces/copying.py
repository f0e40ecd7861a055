"""Storing and changing many rows at once, in a statement for each kind of row, however many there are."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import field, make_dataclass
from functools import cache
from operator import attrgetter
from typing import Any, TypeVar

import orjson
from django.db import connection
from django.db.models import JSONField, Model
from psycopg import sql

from .causes import Caused, keep_causes
from .shapes import Json

M = TypeVar("M", bound=Model)
ENOUGH = 40
"""Rows of a model from which COPY costs less than an INSERT."""


def plain(model: type[M]) -> Callable[..., M]:
    """Makes rows with the columns of a model, by name and with its defaults: for rows that are stored and
    not looked at again. The model's own instance takes ten times as long to make. To the type checker it
    is a row of the model; it has its columns, its because, and no more."""
    made: Callable[..., M] = _plain(model)
    return made


@cache
def _plain(model: type[Model]) -> Any:
    fields: list[tuple[str, object, object]] = []
    caused = issubclass(model, Caused)
    for one in model._meta.concrete_fields:
        name = "cause" if caused and one.name == "cause" else one.attname
        if one.null:
            fields.append((name, object, None))
        elif one.has_default() and callable(one.default):
            fields.append((name, object, field(default_factory=one.default)))
        elif one.has_default() or one.empty_strings_allowed:
            fields.append((name, object, one.get_default()))
        else:
            fields.append((name, object, field()))
    more: Json = {"model": model, "pk": property(attrgetter("id"))}
    if caused:
        more["cause_id"] = property(lambda row: row.cause.pk)
        more["because"] = Caused.because
    name = f"Plain{model.__name__}"
    return make_dataclass(name, fields, namespace=more, slots=True, kw_only=True, eq=False)


def store_all(rows: Sequence[Any]) -> None:
    """Store new rows of one model, or `plain` ones, in the caller's transaction. Nothing of them may
    be there yet."""
    if not rows:
        return
    is_plain = not isinstance(rows[0], Model)
    model: type[Model] = rows[0].model if is_plain else type(rows[0])
    if issubclass(model, Caused):
        keep_causes(rows)
    if not is_plain and len(rows) < ENOUGH:
        model._default_manager.bulk_create(rows)
        return
    statement, values, json_columns = _copying(model)
    with connection.cursor() as cursor, cursor.copy(statement) as copy:
        for row in rows:
            copy.write_row(_written(values(row), json_columns))
    if not is_plain:
        for row in rows:
            row._state.adding, row._state.db = False, connection.alias


def instance(model: type[M], **values: object) -> M:
    """A new instance of a model, with its columns by name. The model itself takes three times as long
    for names as for values in its order."""
    _, in_order, _ = _copying(model)
    return model(*in_order(plain(model)(**values)))


def values_of(row: Model, model: type[Model]) -> list[Any]:
    """The values of a row in the order of its model's columns, as statements take them."""
    _, values, json_columns = _copying(model)
    return _written(values(row), json_columns)


def _written(values: tuple[object, ...], json_columns: list[int]) -> list[Any]:
    written = list(values)
    for place in json_columns:
        if written[place] is not None:
            written[place] = as_json(written[place])
    return written


@cache
def _copying(
    model: type[Model],
) -> tuple[sql.Composed, Callable[[object], tuple[object, ...]], list[int]]:
    """The statement that stores rows of a model, their values in its order, and which are JSON."""
    fields = model._meta.concrete_fields
    statement = sql.SQL("COPY {} ({}) FROM STDIN").format(
        sql.Identifier(model._meta.db_table),
        sql.SQL(", ").join(sql.Identifier(str(one.column)) for one in fields),
    )
    is_json = [place for place, one in enumerate(fields) if isinstance(one, JSONField)]
    return statement, attrgetter(*(one.attname for one in fields)), is_json


def update_all(
    rows: Sequence[Any],
    fields: Sequence[str],
    still: Mapping[str, Sequence[str]] | None = None,
) -> set[Any]:
    """Store these fields of rows of one model that are there: one statement with one parameter, the
    rows as JSON, which costs a fraction of Django's CASE for each row. `still`: texts one of which has to
    stand in a row by now, or it is left alone. The keys of the rows that were changed."""
    if not rows:
        return set()
    model: type[Model] = type(rows[0])
    if issubclass(model, Caused):
        keep_causes(rows)
    columns: list[Any] = [model._meta.pk, *(model._meta.get_field(name) for name in fields)]
    quote = connection.ops.quote_name
    names = [quote(one.column) for one in columns]
    sets = ", ".join(f"{one} = fresh.{one}" for one in names[1:])
    types = ", ".join(f"{quote(one.column)} {one.db_type(connection)}" for one in columns)
    unchanged = "".join(f" AND row.{quote(name)} = ANY(%s)" for name in still or ())
    statement = (
        f"UPDATE {quote(model._meta.db_table)} AS row SET {sets} "
        f"FROM jsonb_to_recordset(%s::jsonb) AS fresh ({types}) WHERE row.{names[0]} = fresh.{names[0]}"
        f"{unchanged} RETURNING row.{names[0]}"
    )
    content = [{one.column: getattr(row, one.attname) for one in columns} for row in rows]
    with connection.cursor() as cursor:
        values = [list(texts) for texts in (still or {}).values()]
        cursor.execute(statement, [as_json(content), *values])
        return {key for (key,) in cursor.fetchall()}


def as_json(value: object) -> str:
    """JSON for PostgreSQL; keys and times are texts that it reads back."""
    try:
        return orjson.dumps(value).decode()
    except TypeError:
        # A whole number of more than 64 bits.
        return json.dumps(value, default=str)
