"""Doors that open as time passes, how far each has been looked at, and people whom a member lets in."""

from django.db import models

from server.people.models import Subscriber
from server.sequences.models import Sequence
from server.workspaces.models import Member, Workspace
from server.workspaces.scoping import WorkspaceRow


class DoorWatch(WorkspaceRow):
    """How far a door has been looked at. One whose document changes is watched anew."""

    sequence = models.ForeignKey(Sequence, on_delete=models.CASCADE, related_name="+")
    door = models.CharField(max_length=40)
    definition = models.CharField(max_length=64)
    """A hash of what opens the door."""
    made_at = models.DateTimeField(null=True)
    """Nobody is due for a moment before it; None: of before this was noted."""
    looked_at = models.DateTimeField()
    """Who was due by then has come in."""
    until = models.DateTimeField(null=True)
    """Of a look that is not finished: who is due by then is coming in, one page after the other."""
    after = models.UUIDField(null=True)
    """The last person of the page that has come in."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["sequence", "door"], name="one_watch_per_door")
        ]


class DoorHeld(WorkspaceRow):
    """For whom the condition of a door has held at its last look, so that it cannot become true."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    watch = models.ForeignKey(
        DoorWatch, on_delete=models.CASCADE, related_name="held", db_index=False
    )
    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["watch", "subscriber"], name="held_once")]


class DoorSeen(WorkspaceRow):
    """For which local date somebody was due at a door of dates or clock times: once each, wherever they move.
    Kept for some days, since no two places are further apart."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    watch = models.ForeignKey(
        DoorWatch, on_delete=models.CASCADE, related_name="seen", db_index=False
    )
    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="+")
    day = models.DateField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["watch", "subscriber", "day"], name="seen_once_a_day")
        ]
        indexes = [models.Index(fields=["watch", "day"], name="seen_by_day")]


class Admission(WorkspaceRow):
    """Everybody whom a condition fitted, let into a sequence by a member."""

    class State(models.TextChoices):
        WORKING = "working"
        DONE = "done"

    sequence = models.ForeignKey(Sequence, on_delete=models.CASCADE, related_name="admissions")
    door = models.CharField(max_length=40, blank=True)
    lane = models.CharField(max_length=40, blank=True)
    condition = models.JSONField()
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    state = models.CharField(max_length=8, choices=State, default=State.WORKING)
    counted = models.PositiveIntegerField()
    """Whom the condition fitted when the member was shown the count."""
    entered = models.PositiveIntegerField(default=0)
    kept_out = models.PositiveIntegerField(default=0)
    """Who did not come in: they had been in it, or the door is for others."""
    after = models.UUIDField(null=True)
    made_at = models.DateTimeField()
    done_at = models.DateTimeField(null=True)
