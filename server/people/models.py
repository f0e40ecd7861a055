"""Subscribers, what is known about them, and why."""

from uuid import UUID

from django.contrib.postgres.indexes import GinIndex
from django.db import models

from server.workspaces.causes import Caused
from server.workspaces.languages import Voice, best_of
from server.workspaces.models import Member, Workspace
from server.workspaces.scoping import WorkspaceRow


class Field(WorkspaceRow):
    """A typed thing known about subscribers. Its key is what documents and texts use."""

    class Type(models.TextChoices):
        EMAIL = "email"
        TEXT = "text"
        LONG_TEXT = "long_text"
        PHONE = "phone"
        COUNTRY = "country"
        DATE = "date"
        NUMBER = "number"
        CHOICE = "choice"
        CHOICES = "choices"
        YES_NO = "yes_no"
        URL = "url"
        LANGUAGE = "language"
        TIME_ZONE = "time_zone"

    key = models.SlugField(max_length=60)
    label = models.CharField(max_length=80)
    type = models.CharField(max_length=12, choices=Type)
    choices = models.JSONField(default=list)
    built_in = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "key"], name="one_field_per_key")
        ]


class Tag(WorkspaceRow):
    """A short label on subscribers."""

    name = models.CharField(max_length=60)
    folded = models.CharField(max_length=60)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "folded"], name="one_tag_per_name")
        ]


class MailingList(WorkspaceRow):
    """Something people subscribe to."""

    name = models.CharField(max_length=80)
    folded = models.CharField(max_length=80)
    description = models.CharField(max_length=300, blank=True)
    """What the public reads about it."""
    public_name = models.CharField(max_length=80, blank=True)
    """What the public calls it, where that differs from its name here."""
    pages = models.JSONField(default=dict)
    """`core.list_pages.ListPages`: the pages that are shown, in its own words."""
    sender_name = models.CharField(max_length=120, blank=True)
    sender_address = models.EmailField(blank=True)
    reply_to = models.EmailField(blank=True)
    """Who its emails are from, where that is not as the workspace says."""
    language = models.CharField(max_length=35, blank=True)
    """BCP 47, of its pages and emails; empty: that of the workspace."""
    words = models.JSONField(default=dict)
    """Its own words for fixed texts of its pages and emails (`core.wording.LIST_TEXTS`), by key."""
    confirms = models.BooleanField(default=False)
    """Whether people confirm by email before they are subscribed (double opt-in)."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "folded"], name="one_list_per_name")
        ]

    @property
    def shown_name(self) -> str:
        """The name that the public reads."""
        return self.public_name or self.name

    def voice(self, workspace: Workspace, language: str) -> Voice:
        """How it speaks in this language: its own words are in its own, and stand nowhere else."""
        own = best_of(self.language or workspace.language)
        return Voice(language, "list", self.words if best_of(language) == own else {})


class Subscriber(WorkspaceRow):
    """A person with an address; one per address and workspace."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    address = models.CharField(max_length=254)
    address_key = models.CharField(max_length=254)
    values = models.JSONField(default=dict)
    """Values of the fields, by key; the address is not among them."""
    searched = models.TextField(default="")
    folded = models.JSONField(default=dict)
    """Text values by key, without case and accents: what conditions compare."""
    score = models.IntegerField(default=0)
    owner = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="people")
    """The member who looks after them."""
    time_zone = models.CharField(max_length=64, blank=True)
    gap_days = models.PositiveSmallIntegerField(default=0)
    """At most one marketing email in so many days, as they asked; 0: as many as there are."""
    added_at = models.DateTimeField()
    uncounted = models.BooleanField(default=False)
    """They asked that nobody counts what they open and click."""
    left_all_at = models.DateTimeField(null=True)
    """When they last left every list at once: an opt-in from before counts for none of them."""
    is_test = models.BooleanField(default=False)
    """Made by a test submission: apart from the person who has this address, never counted."""
    tags = models.ManyToManyField(Tag, through="Tagging", related_name="subscribers")

    memberships_at_hand: "list[Membership] | None" = None
    tags_at_hand: list[UUID] | None = None
    """Read for many people at once (`prefetch_relations`), or None."""

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "address_key"], name="one_subscriber_per_address"
            )
        ]
        indexes = [
            models.Index(fields=["workspace", "-added_at", "-id"], name="subscriber_newest"),
            GinIndex(fields=["searched"], opclasses=["gin_trgm_ops"], name="subscriber_search"),
            GinIndex(fields=["values"], opclasses=["jsonb_path_ops"], name="subscriber_values"),
        ]


class FormerAddress(WorkspaceRow):
    """An address that a person had before: by a change of address, or of somebody merged into them."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="former_addresses"
    )
    address = models.CharField(max_length=254)
    key = models.CharField(max_length=254)
    since = models.DateTimeField(null=True)
    """None: nobody knows since when they had it."""
    until = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["subscriber", "key"], name="one_former_each")
        ]
        indexes = [models.Index(fields=["workspace", "key"], name="former_by_key")]


class Mention(WorkspaceRow):
    """An address that stands in a row about somebody else, so that erasing finds it without reading all rows."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    key = models.CharField(max_length=254)
    kind = models.CharField(max_length=8)
    """`fact`: an entry of the trail; `heard`: what a service told."""
    row = models.UUIDField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "key", "kind", "row"], name="one_mention_each"
            )
        ]


class Tagging(Caused, WorkspaceRow):
    """A tag on a subscriber, and why it is there."""

    # Here and below: the person has the constraint. PostgreSQL looks each one up for each row.
    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="taggings", db_index=False
    )
    tag = models.ForeignKey(Tag, on_delete=models.CASCADE, related_name="taggings")
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["subscriber", "tag"], name="one_tagging_each")
        ]
        indexes = [models.Index(fields=["workspace", "tag"], name="tagging_by_tag")]


class FrozenGroup(WorkspaceRow):
    """The people of a moment, kept by a name. Nobody comes into it later, and only who is erased goes."""

    name = models.CharField(max_length=80)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    of = models.CharField(max_length=500, blank=True)
    """Whom it was made of, in words."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "name"], name="one_group_of_a_name")
        ]


class FrozenMember(WorkspaceRow):
    """Somebody in a frozen group."""

    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="groups", db_index=False
    )
    group = models.ForeignKey(FrozenGroup, on_delete=models.CASCADE, related_name="members")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["subscriber", "group"], name="once_in_a_group")
        ]


class Membership(Caused, WorkspaceRow):
    """A person's place on a list."""

    class State(models.TextChoices):
        NONE = "none"
        """Taken back: never agreed to. The row stays for its evidence."""
        PENDING = "pending"
        SUBSCRIBED = "subscribed"
        UNSUBSCRIBED = "unsubscribed"
        BOUNCED = "bounced"
        COMPLAINED = "complained"

    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="memberships", db_index=False
    )
    list = models.ForeignKey(MailingList, on_delete=models.PROTECT, related_name="memberships")
    state = models.CharField(max_length=12, choices=State)
    changed_at = models.DateTimeField()
    left_at = models.DateTimeField(null=True)
    """When they last left: an opt-in that was received before counts for nothing."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["subscriber", "list"], name="one_membership_each")
        ]
        indexes = [models.Index(fields=["workspace", "list", "state"], name="membership_by_list")]


class Evidence(WorkspaceRow):
    """What proves a change of a membership. Only ever added to, which the database sees to.

    Each row holds the hash of the one before it in its chain, so that none can be changed or
    taken out unnoticed (`core/history/evidence.py`). A merge moves rows to another membership and leaves
    their chain as it is.
    """

    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    # Nothing takes evidence along: erasing takes it away first (`chain.erase_evidence`).
    membership = models.ForeignKey(Membership, on_delete=models.DO_NOTHING, related_name="evidence")
    at = models.DateTimeField()
    before = models.CharField(max_length=12)
    after = models.CharField(max_length=12)
    wording = models.TextField(blank=True)
    page = models.TextField(blank=True)
    ip = models.GenericIPAddressField(null=True)
    because = models.JSONField()
    chain = models.UUIDField()
    """The membership that it was made for: one person on one list."""
    number = models.PositiveIntegerField()
    """Its place in the chain, from 1."""
    previous = models.CharField(max_length=64, blank=True)
    """The hash of the row before it; empty for the first."""
    hash = models.CharField(max_length=64)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["chain", "number"], name="one_evidence_per_number")
        ]


class EvidenceReleased(WorkspaceRow):
    """A chain of evidence that erasing took away, signed by a key that the database does not know: so it is
    not missing. It names nobody."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_constraint=False)
    chain = models.UUIDField()
    at = models.DateTimeField()
    signature = models.CharField(max_length=64)


CONFIRMED = models.Q(kind="membership", about__gt="")
"""Of the changes of a membership, those that the person confirmed from their inbox."""
HAPPENED = models.Q(kind__in=["submitted", "sent", "event", "opened", "clicked"]) | CONFIRMED
"""The entries of the trail that a condition can count."""


class Fact(Caused, WorkspaceRow):
    """One entry of the trail: what became so, when, and because of what."""

    class Kind(models.TextChoices):
        SUBMITTED = "submitted"
        ADDED = "added"
        FIELD = "field"
        TAG = "tag"
        MEMBERSHIP = "membership"
        ENTERED = "entered"
        LEFT = "left"
        SENT = "sent"
        EVENT = "event"
        SCORE = "score"
        OWNER = "owner"
        TASK = "task"
        TOLD = "told"
        ADDRESS = "address"
        MERGED = "merged"
        FEWER = "fewer"
        ZONE = "zone"
        GOAL = "goal"
        OPENED = "opened"
        CLICKED = "clicked"
        RETURNED = "returned"
        """An email that they sent, or their mail server: a reply, a bounce, a complaint."""
        UNCOUNTED = "uncounted"

    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="facts", db_index=False
    )
    at = models.DateTimeField()
    kind = models.CharField(max_length=12, choices=Kind)
    about = models.CharField(max_length=80, blank=True)
    """Of a submission its source, of a confirmation its list, of a send its message, of an event
    its name."""
    what = models.JSONField(default=dict)

    class Meta:
        indexes = [
            models.Index(fields=["subscriber", "-at", "-id"], name="trail"),
            models.Index(
                fields=["subscriber", "kind", "about", "at"],
                condition=HAPPENED,
                name="happened",
            ),
        ]


class Suppression(WorkspaceRow):
    """An address or a domain that gets no marketing, whatever a rule says."""

    class Kind(models.TextChoices):
        ADDRESS = "address"
        DOMAIN = "domain"

    kind = models.CharField(max_length=8, choices=Kind)
    key = models.CharField(max_length=254)
    reason = models.CharField(max_length=200, blank=True)
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    added_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "key"], name="one_suppression_per_key")
        ]
        indexes = [
            models.Index(fields=["workspace", "-added_at", "-id"], name="suppression_newest")
        ]


class Erased(WorkspaceRow):
    """That somebody asked to be erased: a keyed hash of their address, and nothing else of them."""

    key = models.CharField(max_length=64)
    suppressed = models.BooleanField(default=False)
    """Whether the address was on the suppression list, which stays in force."""
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "key"], name="one_erasure_per_address")
        ]


class Merge(WorkspaceRow):
    """Two people who became one, and for a day what is needed to undo it."""

    kept = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="merges")
    gone_address = models.CharField(max_length=254, blank=True)
    at = models.DateTimeField()
    until = models.DateTimeField()
    undone_at = models.DateTimeField(null=True)
    because = models.JSONField()
    restore = models.JSONField(default=dict)
    """Rows that were removed, rows that were moved, and how the kept one was before; emptied
    when the day is over."""

    class Meta:
        indexes = [models.Index(fields=["workspace", "-at"], name="merge_newest")]


class OwnRequest(WorkspaceRow):
    """Something that a person asked for and confirms by a link that only their inbox gets."""

    class Kind(models.TextChoices):
        PAGE = "page"
        DATA = "data"
        ERASE = "erase"
        ADDRESS = "address"
        CHANGED = "changed"
        """No request: the old address is told that it was changed."""

    subscriber = models.ForeignKey(
        Subscriber, on_delete=models.CASCADE, related_name="own_requests"
    )
    kind = models.CharField(max_length=8, choices=Kind)
    to = models.CharField(max_length=254)
    """Where the link goes: their address, or the one that is to be theirs."""
    new_address = models.CharField(max_length=254, blank=True)
    asked_at = models.DateTimeField()
    done_at = models.DateTimeField(null=True)
    because = models.JSONField()

    class Meta:
        indexes = [models.Index(fields=["subscriber", "kind", "-asked_at"], name="own_request")]


class Task(Caused, WorkspaceRow):
    """Something for a member to do about a person."""

    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="tasks")
    title = models.CharField(max_length=200)
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="tasks")
    made_at = models.DateTimeField()
    due_at = models.DateTimeField()
    done_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(
                fields=["workspace", "due_at"],
                condition=models.Q(done_at=None),
                name="task_open",
            )
        ]


def built_in_fields(workspace: Workspace) -> list[Field]:
    """The fields that every workspace has."""
    return [
        Field(workspace=workspace, key="email", label="Email", type="email", built_in=True),
        Field(
            workspace=workspace, key="first_name", label="First name", type="text", built_in=True
        ),
        Field(workspace=workspace, key="last_name", label="Last name", type="text", built_in=True),
    ]
