"""Settings that are saved as a whole: no save writes over what somebody else has changed meanwhile.

Who loads a form gets the version of what it holds, and saves on it. A version is made of the values
themselves, so that whatever changes them makes another one.
"""

import hashlib
import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

from django.db import transaction
from django.db.models import Model
from ninja import Schema
from pydantic import BaseModel

from .errors import Conflict

M = TypeVar("M", bound=Model)


class Based(Schema):
    """What a save of a form tells beside its values: the version that was seen; null: any."""

    based_on: str | None = None


class Versioned(Schema):
    """A form with the version of what it holds."""

    version: str


def version_of(shown: BaseModel, form: type[BaseModel]) -> str:
    """The version of the values of `form` that stand in `shown`."""
    values = shown.model_dump(mode="json", include=set(form.model_fields) - {"based_on", "version"})
    text = json.dumps(values, sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(text.encode()).hexdigest()[:16]


@contextmanager
def saving(row: M, based_on: str | None, version: Callable[[M], str]) -> Iterator[M]:
    """The row, locked while its form is saved; a conflict where it is not the version that was seen."""
    with transaction.atomic():
        manager = type(row)._base_manager
        # What comes in refers to these rows, and does not wait for a member.
        locked = manager.select_for_update(of=("self",), no_key=True).get(pk=row.pk)
        if based_on is not None and version(locked) != based_on:
            raise Conflict("Somebody else changed these settings in the meantime.")
        yield locked
