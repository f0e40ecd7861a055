"""Drafts and live revisions, the same way for routes and sequences."""

from typing import TypeVar

from django.db import models, transaction
from django.db.models import Max
from pydantic import BaseModel

from . import clock
from .errors import Conflict, NotFound, Refused
from .models import Member, Revision, Workspace
from .shapes import Json

R = TypeVar("R", bound=Revision)


def draft_of(revisions: models.QuerySet[R]) -> R | None:
    """The draft, where there is one."""
    return revisions.filter(state=Revision.State.DRAFT).first()


def live_of(revisions: models.QuerySet[R]) -> R | None:
    """The live revision, where there is one."""
    return revisions.filter(state=Revision.State.LIVE).first()


def shown_of(revisions: models.QuerySet[R]) -> R:
    """What the sheet shows: the draft, or the live revision where there is none."""
    shown = draft_of(revisions) or live_of(revisions)
    if shown is None:
        raise NotFound("It has no revision yet.")
    return shown


def revision_numbered(revisions: models.QuerySet[R], number: int) -> tuple[R, R | None]:
    """A revision that is or was live, and the one before it, where there is one."""
    upto = revisions.filter(number__lte=number).select_related("author__user")
    one, earlier, *_ = (*upto.order_by("-number")[:2], None, None)
    if one is None or one.number != number:
        raise NotFound(f"There is no revision {number}.")
    return one, earlier


def edits_of(draft: Revision | None, live: Revision | None) -> int:
    """How often a document was saved, over all its revisions: what an edit says it is based on."""
    newest = draft or live
    return newest.edits if newest else 0


def save_draft(
    revisions: models.QuerySet[R],
    owner: Json,
    workspace: Workspace,
    document: BaseModel,
    based_on: int | None,
    member: Member | None,
) -> R:
    """Save the draft, unless it was saved by somebody else since `based_on` (its edits).

    None: whatever it is.
    """
    with transaction.atomic():
        draft, edits = _locked(revisions, based_on, member)
        if draft is None:
            draft = revisions.model(workspace=workspace, **owner)
        draft.document = document.model_dump(mode="json")
        draft.edits = edits + 1
        draft.author = member
        draft.saved_at = clock.now(workspace)
        draft.save()
        return draft


def discard_draft(revisions: models.QuerySet[R], based_on: int | None, member: Member | None) -> R:
    """Throw the draft away that the member has seen; what is live is what is shown again.

    The count of edits goes on, so that an old page never takes a later draft for this one.
    """
    with transaction.atomic():
        draft, edits = _locked(revisions, based_on, member)
        live = live_of(revisions)
        if draft is None:
            raise Refused("There is no draft to discard.")
        if live is None:
            raise Refused("This was never turned on: the draft is all there is. Delete it instead.")
        draft.delete()
        live.edits = edits + 1
        live.save(update_fields=["edits"])
        return live


def draft_to_turn_on(
    revisions: models.QuerySet[R], based_on: int | None, member: Member | None
) -> R:
    """The draft, locked, if it is the one that the member has seen (`based_on`; None: any)."""
    draft, _ = _locked(revisions, based_on, member)
    if draft is None:
        raise Refused("There is no draft to turn on.")
    return draft


def _locked(
    revisions: models.QuerySet[R], based_on: int | None, member: Member | None
) -> tuple[R | None, int]:
    """The draft, where there is one, and the count of edits, if it still is `based_on`."""
    states = (Revision.State.DRAFT, Revision.State.LIVE)
    rows = {one.state: one for one in revisions.select_for_update().filter(state__in=states)}
    draft, live = (rows.get(state) for state in states)
    edits = edits_of(draft, live)
    if based_on is not None and edits != based_on:
        newest = draft or live
        raise changed_by(newest.author if newest else None, member, "draft")
    return draft, edits


def changed_by(author: Member | None, member: Member | None, what: str) -> Conflict:
    """The error that says who changed something while a member had it open."""
    if author and author == member:
        return Conflict(f"You changed this {what} in another window.")
    who = (author.user.name or author.user.email) if author else "Somebody else"
    return Conflict(f"{who} changed this {what} while you had it open.")


def make_live(
    revisions: models.QuerySet[R],
    draft: R,
    workspace: Workspace,
    member: Member | None,
    note: str,
) -> R:
    """Make the draft the live revision; the one before stays in the history."""
    highest = revisions.aggregate(highest=Max("number"))["highest"] or 0
    revisions.filter(state=Revision.State.LIVE).update(state=Revision.State.PAST)
    draft.state = Revision.State.LIVE
    draft.number = highest + 1
    draft.author = member
    draft.note = note
    draft.live_at = clock.now(workspace)
    draft.save()
    return draft
