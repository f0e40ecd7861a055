"""Fields of a service: what it knows about somebody, as far as it says so itself."""

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from ..documents import Frozen
from .answers import found, text_at

FarType = Literal[
    "text", "email", "phone", "number", "date", "yes_no", "choice", "choices", "country", "url"
]


class FarChoice(Frozen):
    """A value that a field over there allows."""

    value: str
    label: str = ""

    @property
    def shown(self) -> str:
        """As people read it."""
        return self.label or self.value


class FarField(Frozen):
    """A field over there."""

    key: str
    """As the service names it."""
    label: str = ""
    type: FarType = "text"
    required: bool = False
    choices: tuple[FarChoice, ...] = ()
    longest: int | None = None
    """Characters that a value may have; None: the service does not say."""
    group: str = ""
    """Parts of one thing, an address: all that are required of it go together, or none goes."""

    @property
    def shown(self) -> str:
        """As people read it."""
        return self.label or self.key


class FieldsRead(Frozen):
    """Where the fields stand in an answer: JMESPath expressions, each on one field of the answer."""

    items: str = "@"
    key: str = "key"
    label: str = "label"
    type: str = "type"
    required: str = "required"
    choices: str = "choices"
    choice_value: str = "value"
    choice_label: str = "label"
    longest: str = "max_length"
    group: str = "group"
    types: Mapping[str, FarType] = {}
    """Their name of a type, and ours; what is not named is text."""

    def their_type(self, ours: FarType) -> str:
        """Their name of one of our types, for a field that is made from here."""
        named = (theirs for theirs, mine in self.types.items() if mine == ours)
        return next(named, ours)


def read_fields(read: FieldsRead, answer: Any) -> tuple[FarField, ...]:
    """The fields that an answer names; what has no key is no field."""
    fields = (_field(read, one) for one in found(read.items, answer, list))
    return tuple(one for one in fields if one is not None)


def _field(read: FieldsRead, item: Any) -> FarField | None:
    key = text_at(read.key, item)
    if not key:
        return None
    stated = text_at(read.type, item)
    longest = found(read.longest, item, int)
    return FarField(
        key=key,
        label=text_at(read.label, item),
        type=read.types.get(stated, "text"),
        required=found(read.required, item, bool) or False,
        choices=tuple(_choices(read, found(read.choices, item, list))),
        longest=longest if longest and longest > 0 else None,
        group=text_at(read.group, item),
    )


def _choices(read: FieldsRead, items: Iterable[Any]) -> Iterable[FarChoice]:
    for one in items:
        if isinstance(one, str | int | float):
            yield FarChoice(value=str(one))
        elif value := text_at(read.choice_value, one):
            yield FarChoice(value=value, label=text_at(read.choice_label, one))


class FieldChange(Frozen):
    """What became of a field over there since it was read last."""

    key: str
    label: str
    what: Literal["new", "gone", "type", "required", "choices"]
    before: str = ""
    now: str = ""

    @property
    def sentence(self) -> str:
        """In words."""
        match self.what:
            case "new":
                return f"{self.label} is new."
            case "gone":
                return f"{self.label} is gone."
            case "type":
                return f"{self.label} was of type {self.before} and is now {self.now}."
            case "required":
                return f"{self.label} is {self.now} now."
            case _:
                return f"{self.label} no longer allows: {self.before}."


def compare_fields(before: Iterable[FarField], now: Iterable[FarField]) -> tuple[FieldChange, ...]:
    """What changed between two readings, as far as it matters to a mapping."""
    had = {one.key: one for one in before}
    has = {one.key: one for one in now}
    changes = [
        FieldChange(key=key, label=had[key].shown, what="gone") for key in had.keys() - has.keys()
    ]
    for key, field in has.items():
        old = had.get(key)
        if old is None:
            changes.append(FieldChange(key=key, label=field.shown, what="new"))
            continue
        if old.type != field.type:
            changes.append(
                FieldChange(
                    key=key, label=field.shown, what="type", before=old.type, now=field.type
                )
            )
        if old.required != field.required:
            word = "required" if field.required else "optional"
            changes.append(FieldChange(key=key, label=field.shown, what="required", now=word))
        allowed = {one.value for one in field.choices}
        lost = [one.shown for one in old.choices if one.value not in allowed]
        if lost and field.choices:
            changes.append(
                FieldChange(key=key, label=field.shown, what="choices", before=", ".join(lost))
            )
    return tuple(sorted(changes, key=lambda one: (one.label, one.what)))
