"""What every document and every value of the core is made of."""

from dataclasses import dataclass
from typing import Literal, Self, TypeVar, dataclass_transform

from pydantic import BaseModel, ConfigDict

Made = TypeVar("Made")


class Frozen(BaseModel):
    """A value: immutable, compared by content, unknown keys refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    def __copy__(self) -> Self:
        """Without what was worked out of the content, since a copy may get another one. As pydantic does
        it, but for a model without extra and private attributes: runs are copied at each of their steps."""
        kind = type(self)
        made = kind.__new__(kind)
        own, fields = self.__dict__, kind.__pydantic_fields__
        put = object.__setattr__
        put(made, "__dict__", {name: own[name] for name in own if name in fields})
        put(made, "__pydantic_fields_set__", set(self.__pydantic_fields_set__))
        put(made, "__pydantic_extra__", None)
        put(made, "__pydantic_private__", None)
        return made


@dataclass_transform(frozen_default=True, kw_only_default=True)
def value(made: type[Made]) -> type[Made]:
    """A value inside the rules: a slotted dataclass, which pydantic reads and writes at the edges.

    The type checker holds that none is changed. At run time nothing does, since that would make
    each of them take five times as long to make.
    """
    return dataclass(slots=True, kw_only=True, unsafe_hash=True)(made)


class Problem(Frozen):
    """Something wrong, as a value: what, where, and what to do about it."""

    code: str
    place: str = ""
    sentence: str
    fix: str = ""


class Finding(Problem):
    """A problem found in pre-flight. One that `stops` keeps the thing from being turned on."""

    stops: bool = True


How = Literal[
    "fills", "confirms", "takes", "looks at", "starts", "ends", "sends", "belongs to", "hands to"
]


class Use(Frozen):
    """One thing that a document names, and what it does with it."""

    id: str
    how: How
