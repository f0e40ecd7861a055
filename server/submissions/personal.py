"""What this room holds of people: what came in."""

from django.db.models import Q

from server.workspaces import clock
from server.workspaces.personal import Subject, holds_people

from .arrivals import take_jobs
from .models import FileImport, Submission


def _erase_submissions(subject: Subject) -> None:
    """Theirs; what is held or stopped and gives their address."""
    rows = Submission.objects.of(subject.workspace)
    theirs = Q(subscriber=subject.person) | Q(person_key__in=subject.keys, subscriber=None)
    unrouted = subject.named_in("answers") & ~Q(state=Submission.State.ROUTED)
    ids = list(rows.filter(theirs | (unrouted & Q(subscriber=None))).values_list("pk", flat=True))
    found = rows.filter(pk__in=ids)
    take_jobs(found.filter(state=Submission.State.RECEIVED).values_list("pk", flat=True))
    found.update(
        state=Submission.State.ROUTED,
        forgotten_at=clock.now(subject.workspace),
        subscriber=None,
        snag=None,
        **Submission.EMPTIED,
    )


def _erase_names_of_files(subject: Subject) -> None:
    """Somebody may have named a file for a person."""
    for row in FileImport.objects.of(subject.workspace).filter(_named_for(subject)):
        row.name = "a file"
        row.save(update_fields=["name"])


def _named_for(subject: Subject) -> Q:
    named = subject.named_in("name")
    for text in subject.texts:
        if len(text) > 3:
            named |= Q(name__icontains=text)
    return named


holds_people(
    Submission,
    erasing="emptied and let go of; held ones can no longer be let through",
    merging="moves",
    moves=True,
    exporting="answers and context",
    retention="emptied after the workspace's retention time",
    erase=_erase_submissions,
)


holds_people(
    FileImport,
    erasing="its first rows go with the file; its name goes where it names them",
    merging="stays",
    exporting="no",
    retention="for good: counts alone",
    erase=_erase_names_of_files,
)
