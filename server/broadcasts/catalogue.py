"""Everything that a broadcast may refer to."""

from dataclasses import replace
from uuid import UUID

from core.audiences import AudienceDocument
from core.conditions import Group
from core.people import Catalogue
from server.audiences.models import Audience, AudienceRevision
from server.sources.catalogue import full_catalogue
from server.workspaces.models import Revision, Workspace


def whole_catalogue(workspace: Workspace) -> Catalogue:
    """What every document may refer to, and audiences."""
    rows = Audience.objects.of(workspace).order_by("name").values_list("pk", "name")
    return replace(full_catalogue(workspace), audiences={str(pk): name for pk, name in rows})


def conditions_of(workspace: Workspace, audiences: tuple[str, ...]) -> dict[str, Group]:
    """What these audiences ask, by their ids, in the order given; those that are gone are missing."""
    rows = AudienceRevision.objects.of(workspace).filter(
        audience__in=[one for one in audiences if _is_id(one)], state=Revision.State.LIVE
    )
    found = {
        str(pk): AudienceDocument.model_validate(document).who
        for pk, document in rows.values_list("audience", "document")
    }
    return {one: found[one] for one in audiences if one in found}


def _is_id(text: str) -> bool:
    try:
        UUID(text)
    except ValueError:
        return False
    return True
