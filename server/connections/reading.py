"""Reading what services take anew, and saying what changed to whom it concerns."""

from datetime import timedelta

from core.services import FieldChange
from server.services.connecting import is_stale, read_again
from server.services.models import Handoff, Service
from server.snags.actions import report
from server.snags.models import Snag
from server.sources.uses import users_of
from server.workspaces import clock
from server.workspaces.errors import Refused
from server.workspaces.models import Workspace

_LATELY = timedelta(days=30)


def read_what_is_used(workspace: Workspace) -> None:
    """Of the services of a workspace that work and are used: read those whose fields are old."""
    users = users_of(workspace)
    for row in Service.objects.of(workspace).filter(state=Service.State.WORKING).order_by("pk"):
        row.workspace = workspace
        if str(row.pk) in users and is_stale(row, clock.now(workspace)):
            try:
                read_and_say(row)
            except Refused:
                continue


def read_and_say(row: Service) -> tuple[FieldChange, ...]:
    """Read it anew; a snag for each field that is gone or changed and that something uses."""
    changed = read_again(row)
    gone = [one for one in changed if one.what in ("gone", "type", "choices")]
    if not gone:
        return changed
    users = users_of(row.workspace).get(str(row.pk), [])
    names = ", ".join(dict.fromkeys(f"“{one.name}”" for one in users))
    lately = clock.now(row.workspace) - _LATELY
    touched = (
        Handoff.objects.of(row.workspace)
        .filter(service=row, created_at__gte=lately)
        .values("subscriber")
        .distinct()
        .count()
    )
    for one in gone if users else ():
        report(
            row.workspace,
            Snag.About.SERVICE,
            f"field/{row.pk}/{one.key}/{one.what}",
            f"{row.name}: {one.sentence} {names} hands people to it, {touched} in the last 30 days.",
            "Map another field, or make it again over there.",
            {"service": str(row.pk)},
        )
    return changed
