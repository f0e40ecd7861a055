"""Which messages live sequences send."""

from server.mail.models import Message
from server.mail.users import used_by

from .models import SequenceRevision


def _sends(message: Message) -> bool:
    live = SequenceRevision.everywhere.filter(
        workspace=message.workspace_id, state=SequenceRevision.State.LIVE
    )
    return live.filter(document__icontains=str(message.pk)).exists()


used_by(_sends)
