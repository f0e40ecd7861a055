"""Replays, and what each does about each person."""

from django.db import models

from server.people.models import Subscriber
from server.sources.models import RouteRevision, Source
from server.workspaces.models import Member
from server.workspaces.scoping import WorkspaceRow


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
