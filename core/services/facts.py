"""What documents and rules know of a connected service."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from .description import Operation, ServiceDescription, Thing
from .fields import FarField


@dataclass(frozen=True)
class ServiceFacts:
    """A connection, for the rules."""

    id: str
    name: str
    description: ServiceDescription = field(default_factory=ServiceDescription)
    fields: tuple[FarField, ...] = ()
    """Those over there, as they were read last, with those that are always there."""
    things: Mapping[str, tuple[Thing, ...]] = field(default_factory=dict)
    """By kind: lists, tags, stages."""
    list_id: str | None = None
    """The list here whose subscribers may get marketing over there."""

    def operation(self, key: str) -> Operation | None:
        """An operation by its key."""
        return self.description.operation(key)

    def label(self, kind: str, thing: str) -> str:
        """The name of a thing over there."""
        named = (one.label for one in self.things.get(kind, ()) if one.id == thing)
        return next(named, "something that is gone")

    def has(self, kind: str, thing: str) -> bool:
        """Whether it is there."""
        return any(one.id == thing for one in self.things.get(kind, ()))
