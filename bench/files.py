"""A file of rows, imported as a member would."""

from server.imports import imports
from server.sources.models import Source
from server.submissions.models import FileImport


def put_in(source: Source, content: bytes) -> FileImport:
    """All parts of a file, and the consent of its people; it is about to run."""
    row = imports.begin_import(source, "rows.csv", len(content), None)
    for number in range(0, len(content), imports.PART):
        part = content[number : number + imports.PART]
        row = imports.keep_part(row, number // imports.PART, part)
    FileImport.everywhere.filter(pk=row.pk).update(state="counted")
    row.refresh_from_db()
    imports.start_running(row, "They ticked a box", None)
    return row
