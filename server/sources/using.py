"""Which messages the rules of live routes send."""

from server.mail.models import Message
from server.mail.users import used_by

from .models import RouteRevision


def _sends(message: Message) -> bool:
    live = RouteRevision.everywhere.filter(
        workspace=message.workspace_id, state=RouteRevision.State.LIVE
    )
    return live.filter(document__icontains=str(message.pk)).exists()


used_by(_sends)
