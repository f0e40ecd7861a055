"""What this room holds of people: what came in, wherever it stands."""

from django.db.models import F, Func, IntegerField, Q, Value

from server.workspaces import clock
from server.workspaces.personal import Subject, holds_nobody, holds_people

from .arrivals import take_jobs
from .imports import forget_in_files
from .models import (
    Call,
    FileImport,
    FilePart,
    Picture,
    RefusedRow,
    Replay,
    ReplayLine,
    RouteRevision,
    Source,
    Submission,
    Watch,
)


def _erase_submissions(subject: Subject) -> None:
    """Theirs; what is held or stopped and gives their address; and what names it elsewhere."""
    rows = Submission.objects.of(subject.workspace)
    theirs = Q(subscriber=subject.person) | Q(person_key=subject.key, subscriber=None)
    unrouted = Q(answers__icontains=subject.address) & ~Q(state=Submission.State.ROUTED)
    ids = list(rows.filter(theirs | (unrouted & Q(subscriber=None))).values_list("pk", flat=True))
    found = rows.filter(pk__in=ids)
    take_jobs(found.filter(state=Submission.State.RECEIVED).values_list("pk", flat=True))
    calls = Call.objects.of(subject.workspace).filter(submission__in=ids)
    calls.update(body=b"", headers={})
    found.update(
        state=Submission.State.ROUTED,
        forgotten_at=clock.now(subject.workspace),
        subscriber=None,
        snag=None,
        **Submission.EMPTIED,
    )


class _Position(Func):
    """Where some bytes stand in others, from 1; 0: nowhere."""

    template = "position(%(expressions)s)"
    arg_joiner = " IN "
    output_field = IntegerField()


def _erase_calls(subject: Subject) -> None:
    """Calls that were refused name people too, in bodies as they came."""
    rows = Call.objects.of(subject.workspace)
    for spelling in {subject.address, subject.address.lower()}:
        found = rows.annotate(at_byte=_Position(Value(spelling.encode()), F("body")))
        found.filter(at_byte__gt=0).update(body=b"", headers={})


def _erase_replay_lines(subject: Subject) -> None:
    ReplayLine.objects.of(subject.workspace).filter(address__iexact=subject.address).delete()


def _erase_filters(subject: Subject) -> None:
    """A replay keeps the words by which its submissions were chosen."""
    for row in Replay.objects.of(subject.workspace).filter(wanted__text__icontains=subject.address):
        row.wanted = {**row.wanted, "text": ""}
        row.save(update_fields=["wanted"])


def _erase_refused(subject: Subject) -> None:
    rows = RefusedRow.objects.of(subject.workspace).filter(cells__icontains=subject.address)
    rows.update(cells=[])


holds_people(
    Submission,
    erasing="emptied and let go of; held ones can no longer be let through",
    merging="moves",
    exporting="answers and context",
    retention="emptied after the workspace's retention time",
    erase=_erase_submissions,
)
holds_people(
    Call,
    erasing="body and headers emptied",
    merging="stays",
    exporting="no: the submission it made is",
    retention="the newest 50 of a source",
    erase=_erase_calls,
)
holds_people(
    FilePart,
    erasing="the file goes, where it holds their address and is not being put in",
    merging="stays",
    exporting="no",
    retention="gone when the file is done; seven days after the last work on it",
    erase=forget_in_files,
)
holds_people(
    FileImport,
    erasing="its first rows go with the file",
    merging="stays",
    exporting="no",
    retention="for good: counts alone",
)
holds_people(
    RefusedRow,
    erasing="emptied",
    merging="stays",
    exporting="no",
    retention="the workspace's retention time, at most a year",
    erase=_erase_refused,
)
holds_people(
    ReplayLine,
    erasing="removed",
    merging="moves",
    exporting="no",
    retention="the workspace's retention time, at most a year",
    erase=_erase_replay_lines,
)
holds_people(
    Replay,
    erasing="the words that chose submissions are emptied, where they name the address",
    merging="stays",
    exporting="no",
    retention="for good: counts alone",
    erase=_erase_filters,
)
holds_nobody(Source, RouteRevision, Watch, Picture, why="what members set up")
