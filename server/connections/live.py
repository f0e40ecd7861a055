"""The documents that are live, for what hands people over now."""

from core.deciding import RouteDocument
from core.sequences import SequenceDocument
from server.sequences.models import SequenceRevision
from server.sources.models import RouteRevision
from server.workspaces.models import Revision, Workspace


def live_documents(workspace: Workspace) -> list[RouteDocument | SequenceDocument]:
    """Routes and sequences, as they are live."""
    live = Revision.State.LIVE
    routes = (
        RouteRevision.objects.of(workspace).filter(state=live).values_list("document", flat=True)
    )
    runs = SequenceRevision.objects.of(workspace).filter(state=live)
    return [
        *(RouteDocument.model_validate(one) for one in routes),
        *(SequenceDocument.model_validate(one) for one in runs.values_list("document", flat=True)),
    ]
