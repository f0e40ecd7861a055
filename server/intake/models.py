"""Sources, their routes' revisions, and the submissions that come in."""

from django.db import models

from server.people.models import Subscriber
from server.snags.models import Snag
from server.workspaces.models import Revision
from server.workspaces.scoping import WorkspaceRow


class Source(WorkspaceRow):
    """Where submissions come from, and the state of its route."""

    class Kind(models.TextChoices):
        FORM = "form"

    class State(models.TextChoices):
        DRAFT = "draft"
        LIVE = "live"
        PAUSED = "paused"

    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, choices=Kind, default=Kind.FORM)
    key = models.CharField(max_length=80, unique=True)
    state = models.CharField(max_length=6, choices=State, default=State.DRAFT)
    created_at = models.DateTimeField()


class RouteRevision(Revision):
    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="revisions")

    class Meta:
        constraints = Revision.one_each("source")


class Submission(WorkspaceRow):
    """One set of answers, kept exactly as received. What became of it is kept beside it."""

    class State(models.TextChoices):
        RECEIVED = "received"
        ROUTED = "routed"
        STUCK = "stuck"

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="submissions")
    answers = models.JSONField()
    context = models.JSONField(default=dict)
    """Where it came from: page, referrer, and the IP address if the workspace keeps it."""
    rendering = models.CharField(max_length=120)
    received_at = models.DateTimeField()
    state = models.CharField(max_length=8, choices=State, default=State.RECEIVED)
    routed_at = models.DateTimeField(null=True)
    revision = models.ForeignKey(RouteRevision, null=True, on_delete=models.SET_NULL)
    subscriber = models.ForeignKey(
        Subscriber, null=True, on_delete=models.SET_NULL, related_name="submissions"
    )
    decision = models.JSONField(null=True)
    snag = models.ForeignKey(Snag, null=True, on_delete=models.SET_NULL, related_name="submissions")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["source", "rendering"], name="one_submission_per_rendering"
            )
        ]
        indexes = [
            models.Index(fields=["workspace", "-received_at", "-id"], name="submission_newest"),
            models.Index(fields=["source", "-received_at", "-id"], name="submission_by_source"),
            models.Index(
                fields=["source", "received_at"],
                condition=models.Q(state="received"),
                name="submission_waiting",
            ),
        ]
