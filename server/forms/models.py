"""Pictures of forms."""

from django.db import models

from server.workspaces.scoping import WorkspaceRow


class Picture(WorkspaceRow):
    """A picture for a form, made anew from what was sent, so that nothing else is in it."""

    content = models.BinaryField()
    content_type = models.CharField(max_length=40)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
