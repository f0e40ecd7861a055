"""What this room holds of people."""

from server.workspaces.personal import holds_nobody, holds_people

from .models import Admission, DoorHeld, DoorWatch

holds_people(
    DoorHeld,
    erasing="goes with the person",
    merging="goes with the one who goes: the other's own say whether a condition held",
    exporting="no: what a condition saw last",
    retention="as long as the door is open",
)
holds_nobody(DoorWatch, Admission, why="conditions and counts")
