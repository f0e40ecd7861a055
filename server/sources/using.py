"""What the rules of live routes use: which messages they send, and which sequences they start."""

from core.deciding import RouteDocument, StartSequence
from server.mail.models import Message
from server.mail.users import used_by
from server.sequences.starters import starts_sequences
from server.workspaces.models import Workspace

from .models import RouteRevision, Source


def _sends(message: Message) -> bool:
    live = RouteRevision.everywhere.filter(
        workspace=message.workspace_id, state=RouteRevision.State.LIVE
    )
    return live.filter(document__icontains=str(message.pk)).exists()


def _starts(workspace: Workspace, sequence: str) -> set[str | None]:
    live = RouteRevision.objects.of(workspace).filter(
        state=RouteRevision.State.LIVE, source__state=Source.State.LIVE
    )
    return {
        rule.action.lane
        for row in live.filter(document__icontains=sequence)
        for rule in RouteDocument.model_validate(row.document).then
        if rule.on and isinstance(rule.action, StartSequence) and rule.action.sequence == sequence
    }


used_by(_sends)
starts_sequences(_starts)
