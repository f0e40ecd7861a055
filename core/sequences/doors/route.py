"""A route's rule starts the sequence."""

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
        """a route's rule"""
        return "a route’s rule"

    def uses(self) -> Iterator[Use]:
        """Nothing: routes name the sequence."""
        yield from ()
