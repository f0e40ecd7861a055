"""Connected services, what is handed to them, and what they tell."""

import secrets

from django.db import models
from django.db.models import Q

from server.people.models import MailingList, Subscriber
from server.workspaces.causes import Caused
from server.workspaces.models import Workspace
from server.workspaces.retention import answers_by
from server.workspaces.scoping import WorkspaceRow


def new_key() -> str:
    """The secret part of the address that a service calls."""
    return secrets.token_urlsafe(18)


class Service(WorkspaceRow):
    """A connection to an outside program."""

    class State(models.TextChoices):
        NEW = "new"
        """Never tried with success."""
        WORKING = "working"
        NEEDS_LOOK = "needs_look"
        """It refuses the key, or does not answer: nothing goes until that is over."""
        PAUSED = "paused"
        """By a member."""

    name = models.CharField(max_length=80)
    folded = models.CharField(max_length=80)
    purpose = models.CharField(max_length=200, blank=True)
    """What it is for, in a member's words."""
    description = models.JSONField()
    """`core.services.ServiceDescription`, as it was when it was connected or imported last."""
    secret = models.TextField(blank=True)
    """Sealed: key, password, tokens. Write-only."""
    state = models.CharField(max_length=10, choices=State, default=State.NEW)
    trouble = models.CharField(max_length=300, blank=True)
    account = models.CharField(max_length=120, blank=True)
    """Who is signed in over there."""
    checked_at = models.DateTimeField(null=True)
    fields = models.JSONField(default=list)
    """`core.services.FarField`, as they were read last."""
    things = models.JSONField(default=dict)
    """By kind, what there is to choose."""
    read_at = models.DateTimeField(null=True)
    """When fields and things were read."""
    list = models.ForeignKey(MailingList, null=True, on_delete=models.SET_NULL, related_name="+")
    """Whose subscribers may get marketing over there."""
    passes_leaving = models.BooleanField(default=True)
    """Whether who leaves the list here is unsubscribed over there."""
    passes_erasing = models.BooleanField(default=True)
    handed_at = models.DateTimeField(null=True)
    """When something was last handed over."""
    failures = models.PositiveIntegerField(default=0)
    """In a row, whoever it was about: the circuit opens by them."""
    open_until = models.DateTimeField(null=True)
    """Until then nothing is tried."""
    tokens = models.FloatField(default=0)
    """Requests that may go at once, of those that it takes in a minute."""
    tokens_at = models.DateTimeField(null=True)
    hear_key = models.CharField(max_length=40, unique=True, default=new_key)
    hear_secret = models.TextField(blank=True)
    """Sealed: what its calls are signed with."""
    hear_secret_before = models.TextField(blank=True)
    """Sealed: the one before, which is good for a day more, so that no call is lost meanwhile."""
    hear_secret_until = models.DateTimeField(null=True)
    hears_unknown = models.BooleanField(default=False)
    """Whether somebody unknown is added by an event."""
    hears_leaving = models.BooleanField(default=True)
    """Whether leaving over there means leaving the list here."""
    hears = models.JSONField(default=dict)
    """By type of event, what it changes here: `core.services.HeardRule`."""
    heard_at = models.DateTimeField(null=True)
    poll_minutes = models.PositiveIntegerField(default=15)
    poll_at = models.DateTimeField(null=True)
    """The next look; None: it is not looked at."""
    cursor = models.TextField(blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "folded"], name="one_service_per_name")
        ]


class Plan(WorkspaceRow):
    """What is handed over, as a rule or a step said it: stored once, named by many handoffs. Its id is
    made from its content."""

    content = models.JSONField()
    """`core.services.Handover`."""


MAY_BE_THERE = Q(state__in=["done", "sending"]) | Q(looks_first=True)
"""Of handoffs: the other side has the person, or may have them whatever is known here."""


class Handoff(Caused, WorkspaceRow):
    """One person handed to one service."""

    about_cause = ""
    """Of one that has just failed: why, in words that name nobody."""

    class State(models.TextChoices):
        WAITING = "waiting"
        """For its turn, or for another try."""
        CONSENT = "consent"
        """Until the person confirms the list."""
        SENDING = "sending"
        DONE = "done"
        NOT_POSSIBLE = "not_possible"
        """For a reason that only the other side knows: they have no account there."""
        NOT_ALLOWED = "not_allowed"
        """They left, or never agreed."""
        FAILED = "failed"
        """Until a member does something."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    service = models.ForeignKey(
        Service, on_delete=models.CASCADE, related_name="handoffs", db_index=False
    )
    subscriber = models.ForeignKey(
        Subscriber, null=True, on_delete=models.SET_NULL, related_name="handoffs", db_index=False
    )
    """None: erased since, or a row that is about nobody here."""
    plan = models.ForeignKey(
        Plan, on_delete=models.DO_NOTHING, db_constraint=False, db_index=False, related_name="+"
    )
    origin = models.CharField(max_length=120)
    """Its idempotency key: the rule and submission, or the step and visit, that it is for."""
    operation = models.CharField(max_length=80)
    line = models.CharField(max_length=80, blank=True)
    answers = models.JSONField(default=list)
    address = models.CharField(max_length=254, blank=True)
    """Of who is erased, until the other side knows; of who is unsubscribed there; of an event's row."""
    state = models.CharField(max_length=12, choices=State, default=State.WAITING)
    created_at = models.DateTimeField()
    due_at = models.DateTimeField()
    began_at = models.DateTimeField(null=True)
    worker = models.BigIntegerField(null=True)
    """Whose session lock says that somebody has it in hand."""
    tries = models.PositiveIntegerField(default=0)
    looks_first = models.BooleanField(default=False)
    """Whether a try may have got through without an answer: looked at before the next."""
    done_at = models.DateTimeField(null=True)
    their_id = models.CharField(max_length=200, blank=True)
    outcome = models.CharField(max_length=300, blank=True)
    """What became of it, in words: the last answer, or what it went without."""
    fault = models.CharField(max_length=120, blank=True)
    """What those that failed alike have in common."""
    is_test = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["service", "origin"], name="one_handoff_per_origin")
        ]
        indexes = [
            models.Index(
                fields=["service", "due_at", "id"],
                condition=Q(state="waiting"),
                name="handoff_waiting",
            ),
            models.Index(fields=["worker"], condition=Q(state="sending"), name="handoff_sending"),
            models.Index(
                fields=["created_at"], condition=Q(state="consent"), name="handoff_consent"
            ),
            models.Index(
                fields=["subscriber", "service", "id"],
                name="handoff_of_person",
            ),
            models.Index(fields=["service", "-id"], name="handoff_newest"),
            answers_by("created_at", "handoff_answers"),
            models.Index(
                fields=["service", "fault"], condition=Q(state="failed"), name="handoff_failed"
            ),
            models.Index(fields=["by_submission"], name="handoff_of_submission"),
            models.Index(
                fields=["workspace"], condition=~Q(address=""), name="handoff_with_address"
            ),
        ]


class Attempt(WorkspaceRow):
    """One try of a handoff: what went, and what came back. Deleted after a while."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    handoff = models.ForeignKey(Handoff, on_delete=models.CASCADE, related_name="attempts")
    at = models.DateTimeField(db_index=True)
    what = models.CharField(max_length=12)
    """sends, looks"""
    request = models.TextField()
    """Method, address and body, without secrets."""
    status = models.PositiveIntegerField(null=True)
    answer = models.TextField(blank=True)
    """As it came, its beginning; where none came, why."""
    seconds = models.FloatField(default=0)


class Heard(WorkspaceRow):
    """One thing that a service told."""

    class State(models.TextChoices):
        WAITING = "waiting"
        TAKEN = "taken"
        IGNORED = "ignored"
        """Of a kind that is not taken, or about somebody unknown."""
        REFUSED = "refused"
        """Not signed, not JSON, or without an address."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    service = models.ForeignKey(Service, on_delete=models.CASCADE, related_name="heard")
    event_id = models.CharField(max_length=200)
    """Theirs, or the hash of what came."""
    type = models.CharField(max_length=80, blank=True)
    at = models.DateTimeField()
    state = models.CharField(max_length=8, choices=State, default=State.WAITING)
    content: object = models.JSONField(null=True)
    outcome = models.CharField(max_length=300, blank=True)
    address_key = models.CharField(max_length=254, blank=True)
    """Whom it is about, as addresses are compared; empty once it is emptied."""
    subscriber = models.ForeignKey(
        Subscriber, null=True, on_delete=models.SET_NULL, related_name="+", db_index=False
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["service", "event_id"], name="one_heard_per_event")
        ]
        indexes = [
            models.Index(fields=["service", "-id"], name="heard_newest"),
            models.Index(fields=["subscriber"], name="heard_of_person"),
            models.Index(
                fields=["workspace", "id"], condition=Q(state="waiting"), name="heard_waiting"
            ),
            models.Index(
                fields=["service", "-id"], condition=Q(state="refused"), name="heard_refused"
            ),
            models.Index(
                fields=["workspace", "address_key"],
                condition=~Q(address_key=""),
                name="heard_about",
            ),
        ]
