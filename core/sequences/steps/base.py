"""What every step of a sequence is: a document that knows its check, its words and what it does."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from ...documents import Finding, Frozen, Use
from ...people import Catalogue
from ..effects import RunEffect


@dataclass(frozen=True)
class StepCheck:
    """What pre-flight knows beside the step itself."""

    catalogue: Catalogue
    message_findings: Mapping[str, tuple[Finding, ...]]
    """What is wrong with each message, by its id."""
    before: tuple["LaneStep", ...]
    """The steps of its lane that stand before it."""
    is_last: bool


class LaneStep(Frozen):
    """The base of all steps. Adding one: a module here, and its name in `__init__.py`."""

    id: str

    @property
    def needs_list(self) -> bool:
        """Whether only somebody who is on the sequence's list comes to it; others leave before it."""
        return True

    def due(self, came_at: datetime, zone: ZoneInfo) -> datetime:
        """When a run that came to it goes on."""
        return came_at

    def effects(self, at: datetime) -> Iterator[RunEffect]:
        """What happens as a run goes on from it."""
        yield from ()

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """What is missing, gone or odd, each with its fix."""
        yield from ()

    def describe(self, catalogue: Catalogue) -> str:
        """The step in words, for differences of revisions."""
        raise NotImplementedError

    def uses(self) -> Iterator[Use]:
        """What of the workspace it names, and what it does with it."""
        yield from ()
