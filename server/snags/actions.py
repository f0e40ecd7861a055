"""Opening and closing snags."""

from django.db.models import F

from server.workspaces import clock
from server.workspaces.history import changes
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .models import Snag


def report(
    workspace: Workspace,
    about: Snag.About,
    cause: str,
    sentence: str,
    fix: str = "",
    place: Json | None = None,
    times: int = 1,
) -> Snag:
    """Open a snag, or count once more (`times` more) on the open one of the same cause."""
    now = clock.now(workspace)
    snag, is_new = Snag.objects.of(workspace).get_or_create(
        cause=cause,
        closed_at=None,
        defaults={
            "workspace": workspace,
            "about": about,
            "sentence": sentence[:500],
            "fix": fix[:500],
            "place": place or {},
            "times": times,
            "first_at": now,
            "last_at": now,
        },
    )
    if not is_new:
        Snag.objects.of(workspace).filter(pk=snag.pk).update(times=F("times") + times, last_at=now)
    return snag


@changes("closed a snag")
def close(snag: Snag) -> None:
    """It is fixed, or somebody has seen to it."""
    if snag.closed_at is None:
        snag.closed_at = clock.now(snag.workspace)
        snag.save(update_fields=["closed_at"])
