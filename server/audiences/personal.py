"""What this room holds of people."""

from core.audiences import AudienceDocument, without_values
from server.workspaces.personal import Subject, holds_nobody, holds_people

from .models import Audience, AudienceRevision


def _take_out(subject: Subject) -> None:
    """A condition can name somebody by their address."""
    rows = AudienceRevision.objects.of(subject.workspace).filter(subject.named_in("document"))
    for row in rows:
        document = AudienceDocument.model_validate(row.document)
        row.document = without_values(document, subject.addresses).model_dump(mode="json")
        row.save(update_fields=["document"])


holds_people(
    AudienceRevision,
    erasing="values of its comparisons that name their address are emptied, in past revisions too",
    merging="stays",
    exporting="no: documents of members",
    retention="for good",
    erase=_take_out,
)
holds_nobody(Audience, why="names and counts")
