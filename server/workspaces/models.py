"""Workspaces, the members who work in them, and what every document's revisions share."""

from django.contrib.auth.models import AbstractUser, UserManager
from django.db import models
from django.db.models import Q

from .causes import Cause  # noqa: F401 (Django looks for models here)
from .ids import new_id
from .scoping import WorkspaceRow
from .workspace import Workspace


class AddressUserManager(UserManager["User"]):
    """Users are known by their address."""

    def create_user(  # type: ignore[override]
        self, email: str, password: str | None = None, **fields: object
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
    dates = models.CharField(max_length=5, default="day")
    """How they write a date: the day, the month or the year first."""
    clock = models.PositiveSmallIntegerField(default=24)
    """How many hours their clock counts: 24, or 12."""
    numbers = models.CharField(max_length=5, default="comma")
    """What stands between thousands: a comma, a point or a space."""

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS = []
    objects = AddressUserManager()  # type: ignore[misc,assignment]


class Role(models.TextChoices):
    OWNER = "owner"
    EDITOR = "editor"
    READER = "reader"


TOLD_OF = ("attention", "turned_on", "many")
"""Something needs attention; somebody else turned on a change; many people enter or leave a sequence."""


class Member(models.Model):
    """A user's place in a workspace."""

    id = models.UUIDField(primary_key=True, default=new_id, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="members")
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role)
    told_of = models.JSONField(null=True)
    """Of `TOLD_OF`, what they chose to be told of by email; None: they chose nothing yet."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "user"], name="one_member_per_user")
        ]

    @property
    def wants(self) -> list[str]:
        """What they are told of; who chose nothing and can change something: what needs attention."""
        if self.told_of is not None:
            return list(self.told_of)
        return [] if self.role == Role.READER else ["attention"]


class HistoryEntry(WorkspaceRow):
    """What a member changed. It outlives what it tells of, and holds no personal data of people."""

    at = models.DateTimeField()
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    member_name = models.CharField(max_length=120)
    sentence = models.CharField(max_length=500)
    kind = models.CharField(max_length=12, blank=True)
    """`turned_on`, of what members can be told of."""
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
