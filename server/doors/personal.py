"""What this room holds of people."""

from server.workspaces.personal import Subject, holds_nobody, holds_people

from .models import Admission, DoorHeld, DoorSeen, DoorWatch


def _empty_conditions(subject: Subject) -> None:
    """A condition can name somebody by their address."""
    rows = Admission.objects.of(subject.workspace)
    rows.filter(subject.named_in("condition")).filter(state=Admission.State.DONE).update(
        condition={}
    )


holds_people(
    DoorHeld,
    erasing="goes with the person",
    merging="goes with the one who goes: the other's own say whether a condition held",
    exporting="no: what a condition saw last",
    retention="as long as the door is open",
)
holds_people(
    DoorSeen,
    erasing="goes with the person",
    merging="goes with the one who goes: the other's own say for which dates they were due",
    exporting="no: dates on which a door was looked at",
    retention="four days",
)
holds_people(
    Admission,
    erasing="its condition is emptied, where it names their address and is done",
    merging="stays",
    exporting="no: counts",
    retention="for good: counts alone",
    erase=_empty_conditions,
)
holds_nobody(DoorWatch, why="how far a door has been looked at")
