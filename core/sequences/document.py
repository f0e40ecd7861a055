"""The document of a sequence: lanes of steps, and the list its emails belong to."""

from ..documents import Frozen
from .steps import Step


class Lane(Frozen):
    """A column of steps, read downwards."""

    id: str
    name: str = "A"
    steps: tuple[Step, ...] = ()


class SequenceDocument(Frozen):
    """A sequence. Runs are entered once only; its emails go to subscribers of `list`."""

    list: str | None = None
    lanes: tuple[Lane, ...] = ()

    def lane(self, lane_id: str | None) -> Lane | None:
        """The lane of that id; the first one where None is asked for."""
        if lane_id is None:
            return self.lanes[0] if self.lanes else None
        return next((lane for lane in self.lanes if lane.id == lane_id), None)

    def lane_of(self, step_id: str) -> Lane | None:
        """The lane that holds the step."""
        return next(
            (lane for lane in self.lanes if any(step.id == step_id for step in lane.steps)), None
        )


def step_that_remains(
    step_id: str, before: SequenceDocument, now: SequenceDocument
) -> tuple[str, str] | None:
    """Where a run that stands at `step_id` goes on in the new revision.

    Lane and step of the same step where it is still there, else of the next one that
    remains of its old lane; None where nothing of the lane remains after it.
    """
    lane = before.lane_of(step_id) or now.lane_of(step_id)
    if lane is None:
        return None
    ids = [step.id for step in lane.steps]
    for candidate in ids[ids.index(step_id) :]:
        found = now.lane_of(candidate)
        if found:
            return found.id, candidate
    return None
