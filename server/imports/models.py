"""What a file of rows leaves: its parts, and the rows that were refused."""

from django.db import models

from server.submissions.models import FileImport
from server.workspaces.scoping import WorkspaceRow


class FilePart(WorkspaceRow):
    """A piece of a file, as it came."""

    file_import = models.ForeignKey(FileImport, on_delete=models.CASCADE, related_name="parts")
    number = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["file_import", "number"], name="one_part_per_number")
        ]


class RefusedRow(WorkspaceRow):
    """A row of a file that nobody could be stored from, and why."""

    file_import = models.ForeignKey(FileImport, on_delete=models.CASCADE, related_name="refused")
    number = models.PositiveIntegerField()
    cells = models.JSONField()
    problem = models.JSONField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["file_import", "number"], name="one_refusal_per_row")
        ]
