"""Rows by many ids or keys at once, in a statement whose length does not grow with them."""

from collections.abc import Iterable

from django.contrib.postgres.fields import ArrayField
from django.db.models import F, Field, TextField, UUIDField, Value
from django.db.models.functions import Cast
from django.db.models.lookups import Exact

from .arrays import array


def among(field: str, ids: Iterable[object]) -> Exact:
    """Whether the id that stands in a field is one of `ids`: one parameter, not one for each.

    As `field__in` says it; but Django and psycopg prepare each parameter of that by itself,
    which for hundreds of ids takes longer than finding their rows.
    """
    return _any_of(field, ids, UUIDField())


def among_texts(field: str, texts: Iterable[str]) -> Exact:
    """The same for a text."""
    return _any_of(field, texts, TextField())


class _AnyOf(Exact):
    """The left side is one of the array on the right."""

    def get_rhs_op(self, connection: object, rhs: str) -> str:
        """The operator with its right side."""
        return f"= ANY({rhs})"


def _any_of(field: str, values: Iterable[object], kind: "Field[object, object]") -> Exact:
    return _AnyOf(F(field), Cast(Value(array(values), output_field=TextField()), ArrayField(kind)))
