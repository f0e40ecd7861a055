"""Broadcasts and their revisions. What goes to whom stands with the emails (`server.mail.models.Send`)."""

from secrets import token_urlsafe
from typing import cast

from django.conf import settings
from django.db import models
from django.db.models import Q

from core.broadcasts import BroadcastDocument, BroadcastState
from server.workspaces.documents import live_of, shown_of
from server.workspaces.models import Member, Revision
from server.workspaces.scoping import WorkspaceRow


def new_key() -> str:
    """What names a broadcast in the address of its page: nobody can guess it."""
    return token_urlsafe(12)


class Broadcast(WorkspaceRow):
    """A broadcast, and where it stands (`core.broadcasts.TRANSITIONS`)."""

    class State(models.TextChoices):
        DRAFT = "draft"
        ASKED = "asked"
        WAITING = "waiting"
        TRYING = "trying"
        GOING = "going"
        TRYING_PAUSED = "trying_paused"
        GOING_PAUSED = "going_paused"
        DONE = "done"
        STOPPED = "stopped"

    name = models.CharField(max_length=80)
    state = models.CharField(max_length=13, choices=State, default=State.DRAFT)
    created_at = models.DateTimeField()
    archived_at = models.DateTimeField(null=True)
    """Put away: it stands in no list until it is restored."""
    page_key = models.CharField(max_length=20, unique=True, default=new_key)
    asked_by = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    approved_by = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    set_off_by = models.ForeignKey(Member, null=True, on_delete=models.SET_NULL, related_name="+")
    set_off_at = models.DateTimeField(null=True)
    begins_at = models.DateTimeField(null=True)
    """Before then nothing of it goes, and it can be called back."""
    texts = models.JSONField(default=dict)
    """By version the revision of its message, as it was when the broadcast was set off."""
    began_at = models.DateTimeField(null=True)
    decides_at = models.DateTimeField(null=True)
    """When the trial is judged; null while its emails go out, and where a member chooses."""
    chosen = models.CharField(max_length=20, blank=True)
    """The version that the rest gets; empty: there was no trial, or it is not over."""
    judged = models.JSONField(default=dict)
    """What the trial said when it was over (`judging.py`)."""
    counted = models.JSONField(default=dict)
    """Who got it and who was left out when it began (`recipients.Counted`)."""
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(fields=["workspace", "name"], name="broadcast_by_name"),
            models.Index(
                fields=["workspace", "begins_at"],
                condition=~Q(state__in=["draft", "asked", "done", "stopped"]),
                name="broadcast_going",
            ),
        ]

    @property
    def stands(self) -> BroadcastState:
        """Its state, as the core names it."""
        return cast(BroadcastState, self.state)


class BroadcastRevision(Revision):
    """What a broadcast says, or said (`core.broadcasts.BroadcastDocument`): live once it was set off."""

    broadcast = models.ForeignKey(Broadcast, on_delete=models.CASCADE, related_name="revisions")

    class Meta:
        constraints = Revision.one_each("broadcast")


def page_of(broadcast: Broadcast) -> str:
    """The address where everybody can read it in a browser."""
    return f"{settings.PUBLIC_ADDRESS}/b/{broadcast.page_key}"


def shown_document(broadcast: Broadcast) -> BroadcastDocument:
    """What its sheet shows: the draft, or what was set off."""
    return BroadcastDocument.model_validate(shown_of(broadcast.revisions.all()).document)


def going_document(broadcast: Broadcast) -> BroadcastDocument:
    """What was set off."""
    return BroadcastDocument.model_validate(live_of(broadcast.revisions.all()).document)  # type: ignore[union-attr]
