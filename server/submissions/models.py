"""Submissions, and the files that they came in."""

from typing import ClassVar

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import Q
from django.db.models.functions import Cast, Upper

from server.people.models import Subscriber
from server.snags.models import Snag
from server.sources.models import RouteRevision, Source
from server.workspaces.models import Member, Workspace
from server.workspaces.scoping import WorkspaceRow
from server.workspaces.shapes import Json


class Submission(WorkspaceRow):
    """One set of answers, kept exactly as received. What became of it is kept beside it."""

    EMPTIED: ClassVar[Json] = {
        "answers": [],
        "context": {},
        "signs": {},
        "raw": None,
        "decision": None,
        "visitor": "",
        "person_key": "",
    }
    """What of it is personal, as it is once it is forgotten."""

    class State(models.TextChoices):
        RECEIVED = "received"
        HELD = "held"
        ROUTED = "routed"
        STUCK = "stuck"

    # The composite indexes begin with these, so that they need none of their own.
    # The source has the constraint of the workspace.
    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    source = models.ForeignKey(
        Source, on_delete=models.CASCADE, related_name="submissions", db_index=False
    )
    answers = models.JSONField()
    context = models.JSONField(default=dict)
    """Where it came from: page, its title and parameters, referrer, and the IP address if
    the workspace keeps it."""
    signs = models.JSONField(default=dict)
    """What speaks for or against a person having sent it: `honeypot`, `seconds`."""
    raw = models.BinaryField(null=True)
    """The body as it came, until the workspace's retention time is over."""
    raw_type = models.CharField(max_length=200, blank=True)
    idempotency_key = models.CharField(max_length=120, db_collation="C")
    """What names it once for its source: the rendering of the form and its answers, the key
    of a row, the id of a call."""
    person_key = models.CharField(max_length=300, blank=True, db_collation="C")
    """Whose it is, as far as the sheet shown reads an address: what comes of one person is decided
    in the order in which it was received, and erased with them."""
    visitor = models.CharField(max_length=32, blank=True)
    """A keyed hash of the network address, which tells posts from one place apart."""
    is_test = models.BooleanField(default=False)
    held_because = models.CharField(max_length=200, blank=True)
    released = models.BooleanField(default=False)
    """Whether a member let it through; it is not held again."""
    forgotten_at = models.DateTimeField(null=True)
    file_import = models.ForeignKey(
        "FileImport", null=True, on_delete=models.SET_NULL, related_name="submissions"
    )
    received_at = models.DateTimeField()
    state = models.CharField(max_length=8, choices=State, default=State.RECEIVED)
    routed_at = models.DateTimeField(null=True)
    revision = models.ForeignKey(
        RouteRevision, null=True, on_delete=models.SET_NULL, db_index=False
    )
    """The revision that decided it."""
    shown = models.ForeignKey(
        RouteRevision, null=True, on_delete=models.SET_NULL, related_name="shown_to", db_index=False
    )
    """The revision that the visitor was shown: what they agreed to is decided by it."""
    subscriber = models.ForeignKey(
        Subscriber, null=True, on_delete=models.SET_NULL, related_name="submissions"
    )
    decision = models.JSONField(null=True)
    snag = models.ForeignKey(Snag, null=True, on_delete=models.SET_NULL, related_name="submissions")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["source", "idempotency_key"], name="one_submission_per_key"
            )
        ]
        indexes = [
            models.Index(fields=["workspace", "-received_at", "-id"], name="submission_newest"),
            models.Index(fields=["source", "-received_at", "-id"], name="submission_by_source"),
            models.Index(
                fields=["source", "received_at"],
                condition=Q(state="received"),
                name="submission_waiting",
            ),
            models.Index(
                fields=["source", "visitor", "received_at"],
                condition=~Q(visitor=""),
                name="submission_by_visitor",
            ),
            models.Index(
                fields=["workspace", "person_key", "received_at"],
                condition=Q(subscriber=None) & ~Q(person_key=""),
                name="submission_by_person",
            ),
            models.Index(
                fields=["workspace", "received_at"],
                condition=Q(state__in=["held", "stuck"]),
                name="submission_attention",
            ),
            models.Index(
                fields=["workspace", "received_at"],
                condition=Q(forgotten_at=None),
                name="submission_to_forget",
            ),
            GinIndex(
                OpClass(Upper(Cast("answers", models.TextField())), name="gin_trgm_ops"),
                name="submission_answers",
            ),
        ]


class FileImport(WorkspaceRow):
    """A file of rows that was uploaded: its shape, what it would do, and how far it is."""

    class State(models.TextChoices):
        ARRIVING = "arriving"
        READING = "reading"
        READY = "ready"
        COUNTING = "counting"
        COUNTED = "counted"
        RUNNING = "running"
        CANCELLED = "cancelled"
        DONE = "done"
        FAILED = "failed"

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="imports")
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    name = models.CharField(max_length=200)
    size = models.PositiveBigIntegerField()
    state = models.CharField(max_length=10, choices=State, default=State.ARRIVING)
    shape = models.JSONField(default=dict)
    headings = models.JSONField(default=list)
    start = models.JSONField(default=list)
    """The first rows: the number and cells of each, or why it is broken."""
    consent = models.TextField(blank=True)
    """What the people agreed to, as the member says; empty: to nothing."""
    rows = models.PositiveIntegerField(default=0)
    next_row = models.PositiveIntegerField(default=0)
    """Rows before it are done: where counting or running goes on."""
    counts = models.JSONField(default=dict)
    refusals = models.JSONField(default=dict)
    """By code of the problem: its sentence, and how many rows."""
    forecast = models.JSONField(null=True)
    """What counting found: `counts` and `refusals` of a run that keeps nothing."""
    failure = models.CharField(max_length=300, blank=True)
    holds_erased = models.BooleanField(default=False)
    """Whether somebody in it was erased while it was being put in: the file goes with its end."""
    created_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["source", "-created_at"], name="import_newest")]
