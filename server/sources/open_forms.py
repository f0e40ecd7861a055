"""Forms that are open, as the public page and its posts need them: one look-up a second.

A post is answered without asking the database which form it is for. So a form that is
paused or changed may go on as it was for up to two seconds in another process; in this one
it is forgotten at once.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from django.utils import timezone

from server.people.models import Field
from server.workspaces.briefly import Briefly
from server.workspaces.documents import shown_of

from .models import RouteRevision, Source
from .tokens import read_try


@dataclass(frozen=True)
class OpenForm:
    """A source that is open, the revision in force, and what its workspace says."""

    source_id: UUID
    source_name: str
    kind: str
    workspace_id: UUID
    workspace_name: str
    revision_id: str
    email_field: str
    """The id of the field that holds the address."""
    keeps_ip: bool
    asks_zone: bool
    """Whether the form's script says which time zone the visitor's browser is in."""
    country: str
    language: str
    """Of the workspace: that of a form which says nothing of its own."""
    clock_offset: timedelta
    is_draft: bool = False
    """Not turned on: what comes to an own form or a webhook is kept as a try."""
    is_try: bool = False
    """Opened by a member to try it: it may be the draft, and what is sent is a test."""

    def now(self) -> datetime:
        """What time it is in the workspace."""
        return timezone.now() + self.clock_offset


def open_form(key: str, try_with: str = "") -> OpenForm | None:
    """The form of this key, if it is open; with a member's token also one that is not."""
    if try_with:
        return _to_try(key, try_with)
    return _OPEN.get(key, lambda: _load(key))


def forget(source: Source) -> None:
    """Look the form up, and count what came by it, again at the next request."""
    _OPEN.forget(source.key)
    RECENT.forget(source.pk)


_OPEN = Briefly[OpenForm]()
RECENT = Briefly[int]()
"""How many came by a source lately, by its id."""


def _load(key: str) -> OpenForm | None:
    rows = RouteRevision.everywhere.select_related("source__workspace").filter(
        source__key=key, source__archived_at=None
    )
    live = rows.filter(source__state=Source.State.LIVE, state=RouteRevision.State.LIVE).first()
    if live is not None:
        return _opened(live.source, live)
    # Their names are only known once something has come.
    trying = rows.filter(
        source__state=Source.State.DRAFT,
        source__kind__in=(Source.Kind.POSTED, Source.Kind.WEBHOOK),
        state=RouteRevision.State.DRAFT,
    ).first()
    return _opened(trying.source, trying, is_try=True, is_draft=True) if trying else None


def _to_try(key: str, token: str) -> OpenForm | None:
    """What the sheet shows now: the draft, or the live revision where there is none."""
    source = Source.everywhere.select_related("workspace").filter(key=key).first()
    if source is None or read_try(token) != str(source.pk):
        return None
    return _opened(source, shown_of(source.revisions.all()), is_try=True)


def _opened(
    source: Source, revision: RouteRevision, *, is_try: bool = False, is_draft: bool = False
) -> OpenForm:
    workspace = source.workspace
    return OpenForm(
        source_id=source.pk,
        source_name=source.name,
        kind=source.kind,
        workspace_id=workspace.pk,
        workspace_name=workspace.name,
        revision_id=str(revision.pk),
        email_field=str(Field.objects.of(workspace).values_list("pk", flat=True).get(key="email")),
        keeps_ip=workspace.keeps_ip,
        asks_zone=workspace.asks_zone,
        country=workspace.country,
        language=workspace.language,
        clock_offset=workspace.clock_offset,
        is_try=is_try,
        is_draft=is_draft,
    )
