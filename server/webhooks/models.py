"""Calls of webhooks, as they came."""

from django.db import models

from server.sources.models import Source
from server.submissions.models import Submission
from server.workspaces.scoping import WorkspaceRow


class Call(WorkspaceRow):
    """A call of a webhook, as it came, whatever became of it."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="calls")
    at = models.DateTimeField()
    headers = models.JSONField()
    body = models.BinaryField()
    status = models.PositiveSmallIntegerField()
    outcome = models.CharField(max_length=300)
    submission = models.ForeignKey(Submission, null=True, on_delete=models.SET_NULL)

    class Meta:
        indexes = [models.Index(fields=["source", "-at", "-id"], name="call_newest")]
