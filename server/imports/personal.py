"""What this room holds of people: files, and rows that were refused."""

from server.workspaces.personal import Subject, holds_people

from .imports import forget_in_files
from .models import FilePart, RefusedRow


def _erase_refused(subject: Subject) -> None:
    rows = RefusedRow.objects.of(subject.workspace).filter(subject.named_in("cells"))
    rows.update(cells=[])


holds_people(
    FilePart,
    erasing="the file goes, where it holds their address and is not being put in",
    merging="stays",
    exporting="no",
    retention="gone when the file is done; seven days after the last work on it",
    erase=forget_in_files,
)


holds_people(
    RefusedRow,
    erasing="emptied",
    merging="stays",
    exporting="no",
    retention="the workspace's retention time, at most a year",
    erase=_erase_refused,
)
