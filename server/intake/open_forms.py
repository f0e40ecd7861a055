"""Forms that are open, as the public page and its posts need them: one look-up a second.

A post is answered without asking the database which form it is for. So a form that is
paused or changed may go on as it was for up to a second in another process; in this one
it is forgotten at once.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from django.core.cache import cache
from django.utils import timezone

from .models import RouteRevision, Source

SECONDS = 1


@dataclass(frozen=True)
class OpenForm:
    """A source whose form is open, its live revision, and what its workspace says."""

    source_id: UUID
    workspace_id: UUID
    workspace_name: str
    revision_id: str
    keeps_ip: bool
    clock_offset: timedelta

    def now(self) -> datetime:
        """What time it is in the workspace."""
        return timezone.now() + self.clock_offset


def open_form(key: str) -> OpenForm | None:
    """The form of this key, if it is open."""
    found: OpenForm | None = cache.get(_name(key))
    if found is None:
        found = _load(key)
        if found is not None:
            cache.set(_name(key), found, SECONDS)
    return found


def forget(source: Source) -> None:
    """Look the form up again at the next request."""
    cache.delete(_name(source.key))


def _name(key: str) -> str:
    return f"open-form/{key.encode().hex()[:200]}"


def _load(key: str) -> OpenForm | None:
    live = (
        RouteRevision.everywhere.select_related("source__workspace")
        .filter(source__key=key, source__state=Source.State.LIVE, state=RouteRevision.State.LIVE)
        .first()
    )
    if live is None:
        return None
    workspace = live.source.workspace
    return OpenForm(
        source_id=live.source_id,
        workspace_id=workspace.pk,
        workspace_name=workspace.name,
        revision_id=str(live.pk),
        keeps_ip=workspace.keeps_ip,
        clock_offset=workspace.clock_offset,
    )
