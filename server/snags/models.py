"""Snags: what went wrong, with the exact reason, who it touches, and its fix."""

from django.db import models
from django.db.models import Q

from server.workspaces.scoping import WorkspaceRow


class Snag(WorkspaceRow):
    """One cause; everything that it stops counts on the same open snag."""

    class About(models.TextChoices):
        SUBMISSION = "submission"
        SEND = "send"
        SHEET = "sheet"
        SEQUENCE = "sequence"
        SERVICE = "service"

    about = models.CharField(max_length=12, choices=About)
    cause = models.CharField(max_length=200)
    sentence = models.CharField(max_length=500)
    fix = models.CharField(max_length=500, blank=True)
    place = models.JSONField(default=dict)
    """Ids for the way to where it can be fixed: source, sequence, message, person."""
    times = models.PositiveIntegerField(default=1)
    first_at = models.DateTimeField()
    last_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "cause"],
                condition=Q(closed_at=None),
                name="one_open_snag_per_cause",
            )
        ]
        indexes = [models.Index(fields=["workspace", "closed_at", "last_at"], name="snag_open")]
