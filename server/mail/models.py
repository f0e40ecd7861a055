"""Messages, and the sends of them to people."""

from django.db import models
from django.db.models import Q

from core.messages import MessageText
from server.people.models import MailingList, Subscriber
from server.snags.models import Snag
from server.workspaces.causes import Caused
from server.workspaces.models import Member, Workspace
from server.workspaces.scoping import WorkspaceRow


class Message(WorkspaceRow):
    """An email's content; Liquid in each part, the body is HTML."""

    name = models.CharField(max_length=80)
    subject = models.CharField(max_length=300, blank=True)
    preheader = models.CharField(max_length=300, blank=True)
    body = models.TextField(blank=True)
    draft = models.JSONField(null=True)
    """A text that is not live yet (`core.personal.MessageText`); null: there is none."""
    edits = models.PositiveIntegerField(default=0)
    author = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    saved_at = models.DateTimeField()
    archived_at = models.DateTimeField(null=True)
    """Put away: it stands in no list until it is restored."""

    class Meta:
        indexes = [models.Index(fields=["workspace", "name"], name="message_by_name")]


def live_text(message: Message) -> MessageText:
    """What is sent."""
    return MessageText(subject=message.subject, preheader=message.preheader, body=message.body)


def shown_text(message: Message) -> MessageText:
    """What is edited: the draft, or what is live where there is none."""
    if message.draft is not None:
        return MessageText.model_validate(message.draft)
    return live_text(message)


class StoredFile(WorkspaceRow):
    """A file that emails promise, as it was put in."""

    name = models.CharField(max_length=120)
    content_type = models.CharField(max_length=100)
    size = models.PositiveIntegerField()
    content = models.BinaryField()
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    added_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["workspace", "-added_at"], name="file_newest")]


class MessageFile(WorkspaceRow):
    """A file of a message: attached, or behind a link that runs out."""

    message = models.ForeignKey(Message, on_delete=models.CASCADE, related_name="files")
    file = models.ForeignKey(StoredFile, on_delete=models.PROTECT, related_name="messages")
    attached = models.BooleanField(default=False)
    days = models.PositiveSmallIntegerField(default=14)
    """How long the link works."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["message", "file"], name="one_file_per_message")
        ]


class ListMail(WorkspaceRow):
    """The messages of a list: the one that asks to confirm, and the one that welcomes."""

    list = models.OneToOneField(MailingList, on_delete=models.CASCADE, related_name="mail")
    asking = models.ForeignKey(Message, on_delete=models.PROTECT, related_name="+")
    welcome = models.ForeignKey(Message, null=True, on_delete=models.PROTECT, related_name="+")


class Send(Caused, WorkspaceRow):
    """One message to one person, once: `origin` names the run, step and visit it is for."""

    class State(models.TextChoices):
        QUEUED = "queued"
        HANDING_OVER = "handing_over"
        SENT = "sent"
        WITHDRAWN = "withdrawn"
        HELD = "held"
        REFUSED = "refused"
        UNKNOWN = "unknown"

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="sends")
    message = models.ForeignKey(Message, on_delete=models.PROTECT, related_name="sends")
    origin = models.CharField(max_length=160)
    asked_for = models.BooleanField(default=False)
    """The person asked for it just now: it goes out whatever the membership is."""
    answers = models.JSONField(default=list)
    sequence = models.UUIDField(null=True)
    """The sequence that sends it, and the step; null for a rule or a list."""
    step = models.CharField(max_length=40, blank=True)
    holds = models.UUIDField(null=True)
    """The run that waits while this is held."""
    state = models.CharField(max_length=12, choices=State, default=State.QUEUED)
    queued_at = models.DateTimeField()
    not_before = models.DateTimeField(null=True)
    """Until when it waits, since the person asked for fewer emails."""
    handed_at = models.DateTimeField(null=True)
    """When the mail server was last spoken to."""
    sent_at = models.DateTimeField(null=True)
    attempts = models.PositiveSmallIntegerField(default=0)
    subject = models.CharField(max_length=998, blank=True)
    reply = models.CharField(max_length=500, blank=True)
    snag = models.ForeignKey(Snag, null=True, on_delete=models.SET_NULL, related_name="sends")

    # Last of the fields, since its name hides the built-in one in the lines below it.
    list = models.ForeignKey(MailingList, null=True, on_delete=models.PROTECT)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "origin"], name="one_send_per_origin")
        ]
        indexes = [
            models.Index(fields=["workspace", "state", "queued_at"], name="send_by_state"),
            models.Index(fields=["queued_at"], condition=Q(state="handing_over"), name="send_open"),
            models.Index(fields=["holds"], condition=Q(state="held"), name="send_holds"),
            models.Index(
                fields=["sequence", "step", "state"],
                condition=Q(sequence__isnull=False),
                name="send_by_step",
            ),
        ]
