"""Where a run goes from a step: on to the next one, to a named step of a lane, or out."""

from collections.abc import Mapping
from typing import Literal

from ..documents import Frozen


class Way(Frozen):
    """On downwards, to a step of a lane (its first one where none is named), or out of the sequence."""

    to: Literal["on", "lane", "end"] = "on"
    lane: str | None = None
    step: str | None = None

    def describe(self, lanes: Mapping[str, str]) -> str:
        """Where it leads, in words; `lanes`: names of the lanes by id."""
        match self.to:
            case "on":
                return "continues"
            case "end":
                return "leaves"
            case "lane":
                return f"continues in {lanes.get(self.lane or '', 'a lane that is gone')}"


ON = Way()
END = Way(to="end")
