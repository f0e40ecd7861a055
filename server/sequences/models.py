"""Sequences, and the runs of people through them."""

from django.db import models
from django.db.models import Q

from server.people.models import Subscriber
from server.snags.models import Snag
from server.workspaces.causes import Caused
from server.workspaces.models import Revision, Workspace
from server.workspaces.scoping import WorkspaceRow


class Sequence(WorkspaceRow):
    """Emails and other steps that follow over time."""

    class State(models.TextChoices):
        DRAFT = "draft"
        LIVE = "live"
        PAUSED = "paused"

    name = models.CharField(max_length=80)
    state = models.CharField(max_length=6, choices=State, default=State.DRAFT)
    created_at = models.DateTimeField()
    archived_at = models.DateTimeField(null=True)
    """Put away: it does nothing, and stands in no list until it is restored."""


class SequenceRevision(Revision):
    sequence = models.ForeignKey(Sequence, on_delete=models.CASCADE, related_name="revisions")

    class Meta:
        constraints = Revision.one_each("sequence")


class Run(Caused, WorkspaceRow):
    """One person's way through a sequence."""

    # Its constraints and indexes begin with these, so that they need none of their own.
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    sequence = models.ForeignKey(
        Sequence, on_delete=models.CASCADE, related_name="runs", db_index=False
    )
    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="runs")
    revision = models.ForeignKey(SequenceRevision, on_delete=models.PROTECT)
    """The revision in force when the run last moved: its lane tells what comes after a
    step that a later revision has removed."""
    lane = models.CharField(max_length=40)
    step = models.CharField(max_length=40, null=True)
    due_at = models.DateTimeField(null=True)
    ended = models.CharField(max_length=20, blank=True)
    entered_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    answers = models.JSONField(default=list)
    tries = models.PositiveSmallIntegerField(default=0)
    """Failures in a row."""
    retry_at = models.DateTimeField(null=True)
    snag = models.ForeignKey(Snag, null=True, on_delete=models.SET_NULL, related_name="runs")
    """What stops it, after so many tries."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["sequence", "subscriber"], name="one_run_per_person")
        ]
        indexes = [
            models.Index(
                fields=["workspace", "due_at"], condition=Q(ended_at=None), name="run_due"
            ),
            models.Index(fields=["sequence", "step"], name="run_by_step"),
        ]


class Visit(WorkspaceRow):
    """A run at a step: when it came, and when it went on."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="visits", db_index=False)
    sequence = models.ForeignKey(
        Sequence, on_delete=models.CASCADE, related_name="visits", db_index=False
    )
    step = models.CharField(max_length=40)
    came_at = models.DateTimeField()
    went_on_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "step"], name="one_visit_per_step")]
        indexes = [models.Index(fields=["sequence", "step"], name="visit_by_step")]
