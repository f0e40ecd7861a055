"""Workspaces, the members who work in them, and what every document's revisions share."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

from django.contrib.auth.models import AbstractUser, UserManager
from django.db import models
from django.db.models import Q

from .scoping import WorkspaceRow, new_id


class AddressUserManager(UserManager["User"]):
    """Users are known by their address."""

    def create_user(  # type: ignore[override]
        self, email: str, password: str | None = None, **fields: Any
    ) -> "User":
        """A user who signs in with `email`, in lower case."""
        user = self.model(email=email.strip().lower(), **fields)
        user.set_password(password)
        user.save(using=self._db)
        return user


class User(AbstractUser):
    """Somebody who can sign in."""

    username = None  # type: ignore[assignment]
    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120, blank=True)

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS = []
    objects = AddressUserManager()  # type: ignore[misc,assignment]


class Workspace(models.Model):
    """One organisation's (or client's) world."""

    id = models.UUIDField(primary_key=True, default=new_id, editable=False)
    name = models.CharField(max_length=120)
    slug = models.SlugField(max_length=60, unique=True)
    time_zone = models.CharField(max_length=64, default="UTC")
    sender_name = models.CharField(max_length=120, blank=True)
    sender_address = models.EmailField(blank=True)
    postal_address = models.CharField(max_length=300, blank=True)
    keeps_ip = models.BooleanField(default=False)
    asks_zone = models.BooleanField(default=False)
    """Whether forms ask visitors' browsers for their time zone."""
    country = models.CharField(max_length=2, blank=True)
    """Of phone numbers that name none (alpha-2)."""
    retention_days = models.PositiveIntegerField(null=True)
    """Days after which answers, context and raw bodies of submissions go; never, if None."""
    clock_offset = models.DurationField(default=timedelta)
    """How far the time of this workspace is ahead of the real one; zero but in demo and tests."""
    catalogue_version = models.UUIDField(default=uuid4)
    """Another one after each change of what documents may refer to, so that it can be kept in
    memory. It never comes again: what a rolled-back change had is never taken for a later one."""
    created_at = models.DateTimeField(auto_now_add=True)


class Role(models.TextChoices):
    OWNER = "owner"
    EDITOR = "editor"
    READER = "reader"


class Member(models.Model):
    """A user's place in a workspace."""

    id = models.UUIDField(primary_key=True, default=new_id, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="members")
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "user"], name="one_member_per_user")
        ]


class HistoryEntry(WorkspaceRow):
    """What a member changed. It outlives what it tells of, and holds no personal data of people."""

    at = models.DateTimeField()
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    member_name = models.CharField(max_length=120)
    sentence = models.CharField(max_length=500)
    place = models.JSONField(default=dict)
    """By kind of thing its id, for the way to it."""

    class Meta:
        indexes = [models.Index(fields=["workspace", "-at", "-id"], name="history_newest")]


class Revision(WorkspaceRow):
    """A revision of a document: one draft, at most one live, and the past ones, never changed.

    `edits` counts the saves of a draft, so that two members editing it notice each other.
    """

    class State(models.TextChoices):
        DRAFT = "draft"
        LIVE = "live"
        PAST = "past"

    state = models.CharField(max_length=5, choices=State, default=State.DRAFT)
    number = models.PositiveIntegerField(null=True)
    document = models.JSONField()
    edits = models.PositiveIntegerField(default=0)
    author = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=300, blank=True)
    saved_at = models.DateTimeField()
    live_at = models.DateTimeField(null=True)

    class Meta:
        abstract = True

    @staticmethod
    def one_each(owner: str) -> list[models.BaseConstraint]:
        """One draft, one live revision and one of each number for each `owner`."""
        return [
            models.UniqueConstraint(
                fields=[owner], condition=Q(state="draft"), name=f"one_draft_per_{owner}"
            ),
            models.UniqueConstraint(
                fields=[owner], condition=Q(state="live"), name=f"one_live_per_{owner}"
            ),
            models.UniqueConstraint(fields=[owner, "number"], name=f"one_number_per_{owner}"),
        ]
