"""Sequences, and the runs of people through them."""

from django.contrib.postgres.indexes import BrinIndex
from django.db import models
from django.db.models import Q

from core.sequences import SequenceDocument
from server.people.models import Subscriber
from server.snags.models import Snag
from server.workspaces.causes import Caused
from server.workspaces.documents import shown_of
from server.workspaces.models import Revision, Workspace
from server.workspaces.retention import answers_by
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


def shown_document(sequence: Sequence) -> SequenceDocument:
    """What the sheet shows: the draft, or what is live where there is none."""
    return SequenceDocument.model_validate(shown_of(sequence.revisions.all()).document)


class Run(Caused, WorkspaceRow):
    """One person's way through a sequence."""

    # Its constraints and indexes begin with these, so that they need none of their own.
    # The person has the constraint.
    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    sequence = models.ForeignKey(
        Sequence, on_delete=models.CASCADE, related_name="runs", db_index=False
    )
    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="runs")
    revision = models.ForeignKey(SequenceRevision, on_delete=models.PROTECT)
    """The revision in force when the run last moved: its lane tells what comes after a
    step that a later revision has removed."""
    number = models.PositiveIntegerField(default=1)
    """The person's first run of the sequence, or a later one."""
    door = models.CharField(max_length=40, blank=True)
    """The door they came in by, where it is one of the document's."""
    act = models.CharField(max_length=80, blank=True)
    """The act of their own that what follows still answers (`core.sequences.RunState`); empty: none."""
    lane = models.CharField(max_length=40)
    step = models.CharField(max_length=40, null=True)
    came_at = models.DateTimeField(null=True)
    """To its step."""
    due_at = models.DateTimeField(null=True)
    moved = models.JSONField(default=list)
    """What moved `due_at` from when the email was wanted (`core.sequences.Move`)."""
    lap = models.PositiveIntegerField(default=1)
    goals = models.JSONField(default=list)
    """Goals that are reached, or that do not count since they held when it began."""
    goal = models.CharField(max_length=40, blank=True)
    """The first goal it reached, and when."""
    goal_at = models.DateTimeField(null=True)
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
            models.UniqueConstraint(
                fields=["sequence", "subscriber", "number"], name="one_run_per_entry"
            )
        ]
        indexes = [
            models.Index(
                fields=["workspace", "due_at"], condition=Q(ended_at=None), name="run_due"
            ),
            models.Index(fields=["sequence", "step"], name="run_by_step"),
            answers_by("entered_at", "run_answers"),
            # Rows are written in the order in which people enter.
            BrinIndex(fields=["entered_at"], name="run_entered"),
            models.Index(
                fields=["workspace", "ended_at"],
                condition=Q(ended_at__isnull=False),
                name="run_ended",
            ),
        ]


class Visit(WorkspaceRow):
    """A run at a step: when it came, and when it went on."""

    # The run has the constraints of these two. Visits are what most rows are of, and PostgreSQL looks
    # each constraint up for each row.
    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="visits", db_index=False)
    sequence = models.ForeignKey(
        Sequence,
        on_delete=models.CASCADE,
        related_name="visits",
        db_index=False,
        db_constraint=False,
    )
    step = models.CharField(max_length=40)
    lap = models.PositiveIntegerField(default=1)
    """Counts up where a lane leads back to where the run may have been."""
    came_at = models.DateTimeField()
    went_on_at = models.DateTimeField(null=True)
    way = models.CharField(max_length=40, blank=True)
    """The branch by which it went on, where the step has several."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["run", "step", "lap"], name="one_visit_per_lap")
        ]
        indexes = [models.Index(fields=["sequence", "step"], name="visit_by_step")]


class Signal(WorkspaceRow):
    """Something that became so with a person and that a live sequence listens to: stored with the fact
    itself, and gone once the doors and the runs have seen it."""

    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="+", db_index=False
    )
    kind = models.CharField(max_length=12)
    about = models.CharField(max_length=80, blank=True)
    state = models.CharField(max_length=400, blank=True)
    act = models.CharField(max_length=80, blank=True)
    """The act of the person's own by which it became so (`Because.act`)."""
    at = models.DateTimeField()
    tries = models.PositiveSmallIntegerField(default=0)
    """Failures in a row, of this one alone."""
    retry_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "id"], name="signal_in_order")]


class Forecast(WorkspaceRow):
    """What will go out in the next days by all sequences together, as it was looked at last."""

    workspace = models.OneToOneField(Workspace, on_delete=models.CASCADE, related_name="forecast")
    made_at = models.DateTimeField()
    seconds = models.FloatField()
    people = models.PositiveIntegerField()
    """How many are under way."""
    content = models.JSONField()
    """Counts alone: by day, sequence and message, and what moves emails."""


class ForecastPerson(WorkspaceRow):
    """Somebody who would get several emails within a week."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    subscriber = models.OneToOneField(Subscriber, on_delete=models.CASCADE, related_name="+")
    emails = models.PositiveSmallIntegerField()
    """The most within any seven days."""
    first_at = models.DateTimeField()
    """When those seven days begin."""

    class Meta:
        indexes = [models.Index(fields=["workspace", "-emails"], name="forecast_most")]
