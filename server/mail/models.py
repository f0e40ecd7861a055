"""Messages and their revisions, the sends of them to people, and what comes back."""

from django.db import models
from django.db.models import BooleanField, ExpressionWrapper, F, Q

from core.messages import MessageDocument
from server.people.models import MailingList, Subscriber
from server.snags.models import Snag
from server.workspaces.causes import Caused
from server.workspaces.documents import live_of, shown_of
from server.workspaces.models import Member, Revision, Workspace
from server.workspaces.retention import answers_by
from server.workspaces.scoping import WorkspaceRow


class Message(WorkspaceRow):
    """An email's content: what is sent is its live revision, which it has from the beginning."""

    name = models.CharField(max_length=80)
    archived_at = models.DateTimeField(null=True)
    """Put away: it stands in no list until it is restored."""

    class Meta:
        indexes = [models.Index(fields=["workspace", "name"], name="message_by_name")]


class MessageRevision(Revision):
    """A text of a message (`core.messages.MessageDocument`). While nothing uses the message and
    nothing was sent of it, the live one is edited in place."""

    message = models.ForeignKey(Message, on_delete=models.CASCADE, related_name="revisions")

    class Meta:
        constraints = Revision.one_each("message")


def live_document(message: Message) -> MessageDocument:
    """What is sent."""
    return MessageDocument.model_validate(live_of(message.revisions.all()).document)  # type: ignore[union-attr]


def shown_revision(message: Message) -> MessageRevision:
    """What is edited: the draft, or what is live where there is none."""
    found: MessageRevision = shown_of(message.revisions.all())
    return found


def shown_document(message: Message) -> MessageDocument:
    """The text that is edited."""
    return MessageDocument.model_validate(shown_revision(message).document)


class LibraryPicture(WorkspaceRow):
    """A picture for messages, in two sizes: as mail programs show it, and for sharp screens."""

    key = models.CharField(max_length=32, unique=True)
    """Names it in its public address; a picture never changes."""
    name = models.CharField(max_length=120)
    alt = models.CharField(max_length=300, blank=True)
    content_type = models.CharField(max_length=40)
    content = models.BinaryField()
    sharp = models.BinaryField()
    width = models.PositiveIntegerField()
    """CSS pixels, as of `content`."""
    height = models.PositiveIntegerField()
    size = models.PositiveIntegerField()
    """Bytes of both."""
    member = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL)
    added_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["workspace", "-added_at"], name="picture_newest")]


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


OF_BROADCAST = ExpressionWrapper(Q(broadcast__isnull=False), output_field=BooleanField())
"""Whether an email is one of many, which wait behind all others."""


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

    # The person has the constraint.
    workspace = models.ForeignKey(
        Workspace, on_delete=models.CASCADE, db_index=False, db_constraint=False
    )
    subscriber = models.ForeignKey(Subscriber, on_delete=models.CASCADE, related_name="sends")
    message = models.ForeignKey(Message, on_delete=models.PROTECT, related_name="sends")
    origin = models.CharField(max_length=160)
    asked_for = models.BooleanField(default=False)
    """The person asked for it just now: it goes out whatever the membership is."""
    act = models.CharField(max_length=80, blank=True)
    """The act of theirs that it answers (`core.documents.Because.act`); empty where they asked for nothing."""
    any_hour = models.BooleanField(default=False)
    """Whether sending hours and quiet dates do not count for it."""
    revision = models.ForeignKey(
        MessageRevision, null=True, on_delete=models.PROTECT, related_name="sends"
    )
    """The text that went out."""
    answers = models.JSONField(default=list)
    sequence = models.UUIDField(null=True)
    """The sequence that sends it, and the step; null for a rule or a list."""
    step = models.CharField(max_length=40, blank=True)
    broadcast = models.UUIDField(null=True)
    """The broadcast that it is of, and which of its versions; null for all other emails."""
    version = models.CharField(max_length=20, blank=True)
    allowed_by = models.UUIDField(null=True)
    """Of marketing: the membership that allowed it when it was handed over, and the hash of the entry of its
    evidence that did."""
    evidence = models.CharField(max_length=64, blank=True)
    holds = models.UUIDField(null=True)
    """The run that waits while this is held."""
    was_held = models.BooleanField(default=False)
    """Whether it ever was: then a wait behind it counts from when it went out."""
    state = models.CharField(max_length=12, choices=State, default=State.QUEUED)
    queued_at = models.DateTimeField()
    not_before = models.DateTimeField(null=True)
    """Until when it waits, as it was decided last (`core.delivering.decide_email`); `reply` says why."""
    retry_at = models.DateTimeField(null=True)
    """After a try that failed for now: when it may be tried again."""
    soft_mailbox = models.BooleanField(default=False)
    """Whether the last refusal spoke of the mailbox, for now (a full one)."""
    probes = models.BooleanField(default=False)
    """Whether it is sent to find out if the reason of a hold is gone."""
    handed_at = models.DateTimeField(null=True)
    """When the mail server was last spoken to."""
    sent_at = models.DateTimeField(null=True)
    attempts = models.PositiveSmallIntegerField(default=0)
    subject = models.CharField(max_length=998, blank=True)
    reply = models.CharField(max_length=500, blank=True)
    snag = models.ForeignKey(Snag, null=True, on_delete=models.SET_NULL, related_name="sends")
    domain = models.CharField(max_length=253, blank=True)
    """The receiving domain, once it was handed over."""
    links = models.PositiveSmallIntegerField(default=0)
    """How many of its links are counted."""
    counts_opens = models.BooleanField(default=False)
    opened_at = models.DateTimeField(null=True)
    """First loaded by a person, as far as that can be told: an estimate."""
    clicked_at = models.DateTimeField(null=True)
    """First click of a person."""
    left_at = models.DateTimeField(null=True)
    """When the person unsubscribed by a link of this email."""
    came_back = models.CharField(max_length=10, blank=True)
    """What came back: a bounce that is hard or soft, or a complaint."""
    came_back_at = models.DateTimeField(null=True)

    # Last of the fields, since its name hides the built-in one in the lines below it.
    list = models.ForeignKey(MailingList, null=True, on_delete=models.PROTECT)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "origin"], name="one_send_per_origin")
        ]
        indexes = [
            models.Index(fields=["workspace", "state", "queued_at"], name="send_by_state"),
            models.Index(
                "workspace",
                F("asked_for").desc(),
                OF_BROADCAST,
                "queued_at",
                condition=Q(state="queued"),
                name="send_due",
            ),
            models.Index(
                fields=["broadcast", "state"],
                condition=Q(broadcast__isnull=False),
                name="send_by_broadcast",
            ),
            models.Index(fields=["queued_at"], condition=Q(state="handing_over"), name="send_open"),
            models.Index(fields=["holds"], condition=Q(state="held"), name="send_holds"),
            models.Index(fields=["holds"], condition=Q(was_held=True), name="send_was_held"),
            models.Index(
                fields=["sequence", "step", "state"],
                condition=Q(sequence__isnull=False),
                name="send_by_step",
            ),
            models.Index(fields=["message", "sent_at"], name="send_by_message"),
            answers_by("queued_at", "send_answers"),
        ]


class Touch(WorkspaceRow):
    """An email's picture was loaded or a link of it followed: by a person, or by a program."""

    class Kind(models.TextChoices):
        OPEN = "open"
        CLICK = "click"
        TRAP = "trap"
        """The link that no person sees."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    send = models.ForeignKey(Send, on_delete=models.CASCADE, related_name="touches")
    kind = models.CharField(max_length=5, choices=Kind)
    link = models.CharField(max_length=500, blank=True)
    """Where the link leads, as it was written: the same for everybody."""
    at = models.DateTimeField()
    agent = models.CharField(max_length=200, blank=True)
    by = models.CharField(max_length=7, blank=True)
    """person or machine; empty until it is judged."""
    why = models.CharField(max_length=40, blank=True)

    class Meta:
        indexes = [
            models.Index(fields=["at"], condition=Q(by=""), name="touch_open"),
            models.Index(fields=["workspace", "-at", "-id"], name="touch_newest"),
        ]


class SendingDomain(WorkspaceRow):
    """A domain that a workspace sends from: its keys (RFC 6376, RFC 8463), and what its DNS says."""

    domain = models.CharField(max_length=253)
    selector = models.CharField(max_length=40)
    """Of the RSA key; that of the Ed25519 key ends in -ed."""
    rsa_key = models.TextField()
    ed_key = models.TextField()
    """Both encrypted (`server.workspaces.secrets`)."""
    signs = models.BooleanField(default=False)
    """Whether emails are signed: only once the keys are found in the DNS, or a member says so."""
    found = models.JSONField(default=list)
    """What the last look at the DNS found, a line for each record."""
    checked_at = models.DateTimeField(null=True)
    made_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "domain"], name="one_sending_domain")
        ]


class Returned(WorkspaceRow):
    """An email that came back to the workspace: a bounce, a complaint, a reply."""

    class Kind(models.TextChoices):
        HARD = "hard"
        SOFT = "soft"
        COMPLAINT = "complaint"
        UNSUBSCRIBE = "unsubscribe"
        AUTOMATIC = "automatic"
        REPLY = "reply"
        UNKNOWN = "unknown"

    kind = models.CharField(max_length=11, choices=Kind)
    send = models.ForeignKey(Send, null=True, on_delete=models.CASCADE, related_name="returned")
    subscriber = models.ForeignKey(
        Subscriber, null=True, on_delete=models.CASCADE, related_name="returned"
    )
    at = models.DateTimeField()
    status = models.CharField(max_length=20, blank=True)
    """The enhanced code, such as 5.1.1 (RFC 3463)."""
    reason = models.CharField(max_length=500, blank=True)
    subject = models.CharField(max_length=300, blank=True)
    key = models.CharField(max_length=64)
    """Tells the same email from another, whichever way it comes."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "key"], name="one_returned_each")
        ]
        indexes = [models.Index(fields=["workspace", "-at", "-id"], name="returned_newest")]


class SendingHold(WorkspaceRow):
    """The mail server refuses what this workspace sends, for a reason that is no address's fault: all of it,
    what goes to one receiving domain, or one message. Emails wait as held, on one snag; one of them is tried
    from time to time, and all go on once it is taken."""

    scope = models.CharField(max_length=300)
    """`all`, `domain:` and the receiving domain, or `message:` and its id."""
    reply = models.CharField(max_length=500)
    since = models.DateTimeField()
    tries = models.PositiveSmallIntegerField(default=0)
    try_at = models.DateTimeField()
    """When the next email is tried."""
    snag = models.ForeignKey(Snag, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "scope"], name="one_hold_each")]


class BroadcastPause(WorkspaceRow):
    """A broadcast of which nothing is handed over until it goes on."""

    broadcast = models.UUIDField(unique=True)


class Pace(WorkspaceRow):
    """How many emails were handed over for a receiving domain within an hour."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    domain = models.CharField(max_length=253)
    """Empty: all domains together."""
    hour = models.DateTimeField()
    count = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "domain", "hour"], name="one_pace_each")
        ]


class ReplyMailbox(WorkspaceRow):
    """The mailbox where replies to a workspace arrive, read by IMAP (RFC 9051)."""

    workspace = models.OneToOneField(
        Workspace, on_delete=models.CASCADE, related_name="reply_mailbox"
    )
    host = models.CharField(max_length=253)
    port = models.PositiveIntegerField(default=993)
    user = models.CharField(max_length=254)
    password = models.TextField()
    """Encrypted (`server.workspaces.sealing`)."""
    folder = models.CharField(max_length=120, default="INBOX")
    validity = models.CharField(max_length=20, blank=True)
    """The UIDVALIDITY that `last` belongs to."""
    last = models.PositiveBigIntegerField(default=0)
    """The UID of the newest email that was read."""
    checked_at = models.DateTimeField(null=True)
    problem = models.CharField(max_length=300, blank=True)
