"""Drafts and live revisions, the same way for routes and sequences."""

from typing import Any

from django.db import models, transaction
from django.db.models import Max
from pydantic import BaseModel

from . import clock
from .errors import Conflict
from .models import Member, Revision, Workspace


def draft_of(revisions: models.QuerySet[Any]) -> Any | None:
    """The draft, where there is one."""
    return revisions.filter(state=Revision.State.DRAFT).first()


def live_of(revisions: models.QuerySet[Any]) -> Any | None:
    """The live revision, where there is one."""
    return revisions.filter(state=Revision.State.LIVE).first()


def save_draft(
    revisions: models.QuerySet[Any],
    owner: dict[str, Any],
    workspace: Workspace,
    document: BaseModel,
    based_on: int,
    member: Member | None,
) -> Any:
    """Save the draft, unless it was saved by somebody else since `based_on` (its `edits`)."""
    with transaction.atomic():
        draft = revisions.select_for_update().filter(state=Revision.State.DRAFT).first()
        if (draft.edits if draft else 0) != based_on:
            raise Conflict("Somebody else changed this draft. Load it again to see their changes.")
        if draft is None:
            draft = revisions.model(workspace=workspace, **owner)
        draft.document = document.model_dump(mode="json")
        draft.edits = based_on + 1
        draft.author = member
        draft.saved_at = clock.now(workspace)
        draft.save()
        return draft


def make_live(
    revisions: models.QuerySet[Any], workspace: Workspace, member: Member | None, note: str
) -> Any:
    """Make the draft the live revision; the one before stays in the history."""
    draft = revisions.select_for_update().get(state=Revision.State.DRAFT)
    highest = revisions.aggregate(highest=Max("number"))["highest"] or 0
    revisions.filter(state=Revision.State.LIVE).update(state=Revision.State.PAST)
    draft.state = Revision.State.LIVE
    draft.number = highest + 1
    draft.author = member
    draft.note = note
    draft.live_at = clock.now(workspace)
    draft.save()
    return draft
