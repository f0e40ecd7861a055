"""Sources, their routes' revisions, the submissions that come in, and how they come in."""

from typing import Any, ClassVar

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import Q
from django.db.models.functions import Cast, Upper

from server.people.models import Subscriber
from server.snags.models import Snag
from server.workspaces.models import Member, Revision, Workspace
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


class Submission(WorkspaceRow):
    """One set of answers, kept exactly as received. What became of it is kept beside it."""

    EMPTIED: ClassVar[dict[str, Any]] = {
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
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    source = models.ForeignKey(
        Source, on_delete=models.CASCADE, related_name="submissions", db_index=False
    )
    answers = models.JSONField()
    context = models.JSONField(default=dict)
    """Where it came from: page, its title and parameters, referrer, and the IP address if
    the workspace keeps it."""
    signs = models.JSONField(default=dict)
    """What speaks for or against a person having sent it: `bait`, `seconds`."""
    raw = models.BinaryField(null=True)
    """The body as it came, until the workspace's retention time is over."""
    raw_type = models.CharField(max_length=200, blank=True)
    rendering = models.CharField(max_length=120, db_collation="C")
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
                fields=["source", "rendering"], name="one_submission_per_rendering"
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
                condition=Q(state="held"),
                name="submission_held",
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
    """A file of rows that was put in: its shape, what it would do, and how far it is."""

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


class FilePart(WorkspaceRow):
    """A piece of a file, as it came."""

    file_import = models.ForeignKey(FileImport, on_delete=models.CASCADE, related_name="parts")
    number = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["file_import", "number"], name="one_part_per_number")
        ]


class RefusedRow(WorkspaceRow):
    """A row of a file that nobody could be stored from, and why."""

    file_import = models.ForeignKey(FileImport, on_delete=models.CASCADE, related_name="refused")
    number = models.PositiveIntegerField()
    cells = models.JSONField()
    problem = models.JSONField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["file_import", "number"], name="one_refusal_per_row")
        ]


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


class Replay(WorkspaceRow):
    """Submissions decided again by today's route: seen first, then carried out, then undone."""

    class State(models.TextChoices):
        LOOKING = "looking"
        SEEN = "seen"
        RUNNING = "running"
        STOPPED = "stopped"
        DONE = "done"
        UNDOING = "undoing"
        UNDONE = "undone"
        FAILED = "failed"

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="replays")
    revision = models.ForeignKey(RouteRevision, on_delete=models.CASCADE)
    """The live revision that was looked at; no other one is carried out."""
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    member_name = models.CharField(max_length=120)
    wanted = models.JSONField()
    """The filter that chose the submissions."""
    allowed = models.JSONField()
    state = models.CharField(max_length=8, choices=State, default=State.LOOKING)
    people = models.PositiveIntegerField(default=0)
    submissions = models.PositiveIntegerField(default=0)
    next_line = models.PositiveIntegerField(default=0)
    counts = models.JSONField(default=dict)
    """What the look found: people who change, and what is added, changed and removed."""
    failure = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField()
    ran_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["source", "-created_at"], name="replay_newest")]


class ReplayLine(WorkspaceRow):
    """One person of a replay: their submissions, what it does about them, and what it leaves."""

    replay = models.ForeignKey(Replay, on_delete=models.CASCADE, related_name="lines")
    number = models.PositiveIntegerField()
    subscriber = models.ForeignKey(
        Subscriber, null=True, on_delete=models.CASCADE, related_name="replay_lines"
    )
    address = models.CharField(max_length=254, blank=True)
    submissions = models.JSONField()
    effects = models.JSONField(default=list)
    """In words, each with its kind: adds, changes, removes."""
    kept = models.JSONField(default=list)
    made = models.BooleanField(default=False)
    """Whether nobody has the address yet, so that somebody is made."""
    before = models.JSONField(default=dict)
    """Of submissions that were stuck: by id, what had been decided."""
    done = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["replay", "number"], name="one_line_per_number")
        ]


class Call(WorkspaceRow):
    """A call of a webhook, as it came, whatever became of it."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="calls")
    at = models.DateTimeField()
    headers = models.JSONField()
    body = models.BinaryField()
    status = models.PositiveSmallIntegerField()
    said = models.CharField(max_length=300)
    submission = models.ForeignKey(Submission, null=True, on_delete=models.SET_NULL)

    class Meta:
        indexes = [models.Index(fields=["source", "-at", "-id"], name="call_newest")]


class Picture(WorkspaceRow):
    """A picture for a form, made anew from what was sent, so that nothing else is in it."""

    content = models.BinaryField()
    content_type = models.CharField(max_length=40)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
