"""What members were told of by email."""

from django.db import models

from server.workspaces.models import Workspace
from server.workspaces.scoping import WorkspaceRow


class Notice(WorkspaceRow):
    """One thing that members were told of, or would have been if any of them wanted to be: once."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, db_index=False)
    kind = models.CharField(max_length=12)
    about = models.CharField(max_length=120)
    """The id of a snag or of an entry of the history; or the sequence, what people did, and the day."""
    at = models.DateTimeField()
    count = models.PositiveIntegerField(default=0)
    """People, where it is about many."""

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "kind", "about"], name="one_notice_per_cause"
            )
        ]
