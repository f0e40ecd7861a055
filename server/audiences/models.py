"""Audiences and their revisions. Whom one holds is never stored: only what is asked."""

from django.db import models

from core.audiences import AudienceDocument
from server.workspaces.documents import live_of, shown_of
from server.workspaces.models import Revision
from server.workspaces.scoping import WorkspaceRow


class Audience(WorkspaceRow):
    """A condition with a name; it has a live revision from the beginning."""

    name = models.CharField(max_length=80)
    people = models.PositiveIntegerField(null=True)
    """How many it held when it was counted last, by the live revision; for the list alone."""
    counted_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "name"], name="audience_by_name")]


class AudienceRevision(Revision):
    """What an audience asks, or asked (`core.audiences.AudienceDocument`)."""

    audience = models.ForeignKey(Audience, on_delete=models.CASCADE, related_name="revisions")

    class Meta:
        constraints = Revision.one_each("audience")


def live_document(audience: Audience) -> AudienceDocument:
    """What it asks."""
    return AudienceDocument.model_validate(live_of(audience.revisions.all()).document)  # type: ignore[union-attr]


def shown_document(audience: Audience) -> AudienceDocument:
    """What its sheet shows: the draft, or what is live."""
    return AudienceDocument.model_validate(shown_of(audience.revisions.all()).document)
