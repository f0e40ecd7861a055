"""What this room holds of people."""

from core.audiences import AudienceDocument, without_values
from server.workspaces.personal import Subject, holds_people

from .models import Audience, AudienceRevision


def _take_out_of_names(subject: Subject) -> None:
    """A name can be a condition in words, and so name somebody by their address."""
    for row in Audience.objects.of(subject.workspace).filter(subject.named_in("name")):
        row.name = subject.without(row.name)[:80]
        row.save(update_fields=["name"])


def _take_out_of_conditions(subject: Subject) -> None:
    """A condition can name somebody by their address, and so can a note."""
    rows = AudienceRevision.objects.of(subject.workspace)
    for row in rows.filter(subject.named_in("document") | subject.named_in("note")):
        document = AudienceDocument.model_validate(row.document)
        row.document = without_values(document, subject.addresses).model_dump(mode="json")
        row.note = subject.without(row.note)[:300]
        row.save(update_fields=["document", "note"])


holds_people(
    Audience,
    erasing="their address is taken out of its name",
    merging="stays",
    exporting="no: what members name",
    retention="until a member deletes it",
    erase=_take_out_of_names,
)
holds_people(
    AudienceRevision,
    erasing="values of its comparisons that name their address are emptied, in past revisions too",
    merging="stays",
    exporting="no: documents of members",
    retention="as long as the audience",
    erase=_take_out_of_conditions,
)
