"""What this room holds of people."""

from core.audiences import without_texts
from core.broadcasts import BroadcastDocument
from server.workspaces.personal import Subject, holds_people

from .models import Broadcast, BroadcastRevision


def _take_out_of_names(subject: Subject) -> None:
    for row in Broadcast.objects.of(subject.workspace).filter(subject.named_in("name")):
        row.name = subject.without(row.name)[:80]
        row.save(update_fields=["name"])


def _take_out_of_conditions(subject: Subject) -> None:
    """A condition can name somebody by their address, and so can a note."""
    rows = BroadcastRevision.objects.of(subject.workspace)
    for row in rows.filter(subject.named_in("document") | subject.named_in("note")):
        document = BroadcastDocument.model_validate(row.document)
        to, trial = document.to, document.trial
        changed = document.model_copy(
            update={
                "to": to.model_copy(
                    update={
                        "only": without_texts(to.only, subject.addresses),
                        "less": without_texts(to.less, subject.addresses),
                    }
                ),
                "trial": trial.model_copy(
                    update={"goal": trial.goal and without_texts(trial.goal, subject.addresses)}
                ),
            }
        )
        row.document = changed.model_dump(mode="json")
        row.note = subject.without(row.note)[:300]
        row.save(update_fields=["document", "note"])


holds_people(
    Broadcast,
    erasing="their address is taken out of its name; how many got it stays",
    merging="stays",
    exporting="no: what members name; the emails of it stand with what was sent",
    retention="until a member deletes it",
    erase=_take_out_of_names,
)
holds_people(
    BroadcastRevision,
    erasing="values of its conditions that name their address are emptied, in past revisions too",
    merging="stays",
    exporting="no: documents of members",
    retention="as long as the broadcast",
    erase=_take_out_of_conditions,
)
