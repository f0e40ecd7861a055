"""A form, or another source, leads into the sequence by a rule of its route."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Use
from ...people import Catalogue
from .base import BaseDoor


class RouteDoor(BaseDoor):
    """How a rule of a route comes into this lane. Where a lane has no such door, rules come in as the
    sequence says for all."""

    kind: Literal["route"] = "route"

    @property
    def asked(self) -> bool:
        """A form was sent."""
        return True

    def named(self, catalogue: Catalogue) -> str:
        """forms and other sources"""
        return "forms and other sources"

    def uses(self) -> Iterator[Use]:
        """Nothing: routes name the sequence."""
        yield from ()
