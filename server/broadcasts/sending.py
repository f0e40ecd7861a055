"""What the mail room asks of broadcasts: the texts that were set off, and whether a message is in use."""

from collections.abc import Collection
from uuid import UUID

from server.audiences.users import named_by
from server.mail.models import Message
from server.mail.senders import OwnBroadcast
from server.mail.users import used_by
from server.workspaces.models import Revision, Workspace

from .models import Broadcast, BroadcastRevision, going_document, page_of

_USES = [
    Broadcast.State.ASKED,
    Broadcast.State.WAITING,
    Broadcast.State.TRYING,
    Broadcast.State.GOING,
]
_USES += [Broadcast.State.TRYING_PAUSED, Broadcast.State.GOING_PAUSED]


def own_broadcasts(workspace: Workspace, broadcasts: Collection[UUID]) -> dict[UUID, OwnBroadcast]:
    """What these broadcasts say of their emails, by what was set off of each."""
    found = {}
    for row in Broadcast.objects.of(workspace).filter(pk__in=list(broadcasts)):
        document = going_document(row)
        found[row.pk] = OwnBroadcast(
            waits=document.when.outside == "move",
            subjects={one.id: one.subject for one in document.versions if one.subject},
            revisions={version: UUID(pk) for version, pk in row.texts.items()},
            page=page_of(row) if document.page else "",
        )
    return found


def _sends(message: Message) -> bool:
    revisions = BroadcastRevision.everywhere.filter(
        workspace=message.workspace_id, broadcast__state__in=_USES
    ).exclude(state=Revision.State.PAST)
    return revisions.filter(document__icontains=str(message.pk)).exists()


def _names(workspace: Workspace, pk: str) -> list[str]:
    """Broadcasts that are written or under way, and name an audience or a frozen group."""
    revisions = BroadcastRevision.objects.of(workspace).filter(
        broadcast__state__in=[Broadcast.State.DRAFT, *_USES], broadcast__archived_at=None
    )
    named = revisions.exclude(state=Revision.State.PAST).filter(document__icontains=pk)
    names = named.values_list("broadcast__name", flat=True).distinct().order_by("broadcast__name")
    return [f"the broadcast “{name}”" for name in names]


used_by(_sends)
named_by(_names)
