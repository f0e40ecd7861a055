"""Stop: the run ends here."""

from collections.abc import Mapping
from typing import Literal

from ...people import Catalogue
from ..journey import Walk
from ..ways import END
from .base import Branch, LaneStep


class StopStep(LaneStep):
    """The run ends here."""

    kind: Literal["stop"] = "stop"

    def go(self, walk: Walk) -> str:
        """Out."""
        return "stop"

    def branches(self) -> tuple[Branch, ...]:
        """Out, for everybody."""
        return (Branch("stop", "ends here", END),)

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """stop"""
        return "stop"
