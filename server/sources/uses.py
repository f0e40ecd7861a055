"""Which routes and sequences fill and use what exists, by the sheets as they are shown."""

from dataclasses import dataclass

from core.checking import uses_of_route, uses_of_sequence
from core.deciding import RouteDocument
from core.documents import Use
from core.sequences import SequenceDocument
from server.sequences.models import SequenceRevision
from server.workspaces.models import Revision, Workspace

from .models import RouteRevision


@dataclass(frozen=True)
class User:
    """A document that uses something: its kind, its name, whether it is live, and how it does."""

    kind: str
    pk: str
    name: str
    live: bool
    how: str


def users_of(workspace: Workspace) -> dict[str, list[User]]:
    """By id of a tag, list, sequence or message: the documents that name it."""
    found: dict[str, list[User]] = {}

    def add(kind: str, owner: object, revision: Revision, uses: tuple[Use, ...]) -> None:
        live = revision.state == Revision.State.LIVE
        for use in uses:
            pk, name = str(getattr(owner, "pk", "")), str(getattr(owner, "name", ""))
            user = User(kind=kind, pk=pk, name=name, live=live, how=use.how)
            users = found.setdefault(use.id, [])
            # A draft counts for what its live revision does not do yet.
            if not any((one.pk, one.how) == (user.pk, user.how) for one in users):
                users.append(user)

    # Live ones first.
    shown = {"state__in": (Revision.State.LIVE, Revision.State.DRAFT)}
    routes = RouteRevision.objects.of(workspace).filter(**shown).select_related("source")
    for row in routes.order_by("-state", "source__name"):
        document = RouteDocument.model_validate(row.document)
        add("source", row.source, row, uses_of_route(document))
    runs = SequenceRevision.objects.of(workspace).filter(**shown).select_related("sequence")
    for row in runs.order_by("-state", "sequence__name"):
        add(
            "sequence",
            row.sequence,
            row,
            uses_of_sequence(SequenceDocument.model_validate(row.document)),
        )
    return found
