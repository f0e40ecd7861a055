"""Sources, the revisions of their routes, and the sheets that are watched."""

from django.db import models

from server.workspaces.models import Revision
from server.workspaces.scoping import WorkspaceRow


class Source(WorkspaceRow):
    """Where submissions come from, and the state of its route."""

    class Kind(models.TextChoices):
        FORM = "form"
        POSTED = "posted"
        FILE = "file"
        SHEET = "sheet"
        WEBHOOK = "webhook"

    class State(models.TextChoices):
        DRAFT = "draft"
        LIVE = "live"
        PAUSED = "paused"

    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, choices=Kind, default=Kind.FORM)
    key = models.CharField(max_length=80, unique=True)
    state = models.CharField(max_length=6, choices=State, default=State.DRAFT)
    created_at = models.DateTimeField()
    archived_at = models.DateTimeField(null=True)
    """Put away: it does nothing, and stands in no list until it is restored."""
    turns = models.PositiveBigIntegerField(default=0)
    """How many were given to members in turn."""
    secret = models.TextField(blank=True)
    """Of a webhook whose calls are signed: the signing secret, encrypted."""


class RouteRevision(Revision):
    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="revisions")

    class Meta:
        constraints = Revision.one_each("source")


class Watch(WorkspaceRow):
    """A sheet that is looked at again and again."""

    source = models.OneToOneField(Source, on_delete=models.CASCADE, related_name="watch")
    address = models.CharField(max_length=2000, blank=True)
    minutes = models.PositiveIntegerField(default=15)
    key_heading = models.CharField(max_length=200, blank=True)
    """The heading of the column whose value names a row for good."""
    headings = models.JSONField(default=list)
    next_at = models.DateTimeField(null=True)
    looked_at = models.DateTimeField(null=True)
    rows = models.PositiveIntegerField(default=0)
    came = models.PositiveIntegerField(default=0)
    """New rows at the last look."""
    problem = models.JSONField(null=True)

    class Meta:
        indexes = [models.Index(fields=["next_at"], name="watch_due")]
