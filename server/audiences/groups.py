"""Frozen groups: the people of a moment, kept by a name."""

from django.db import connection, transaction

from core.audiences import AudienceDocument
from core.conditions import Group, say
from server.people.models import FrozenGroup, FrozenMember, Subscriber
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused
from server.workspaces.expensive import expensive_read
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.names import free_name

from .actions import refuse_unready
from .query import audience_query
from .users import refuse_used

_SECONDS = 30
"""For finding and keeping everybody."""


@changes("froze the group “{name}”")
def freeze(workspace: Workspace, name: str, who: Group, member: Member | None) -> FrozenGroup:
    """Keep everybody whom the condition fits now, in one statement."""
    name = free_name(FrozenGroup.objects.of(workspace), name, "frozen group")
    refuse_unready(AudienceDocument(who=who), workspace)
    catalogue, now = full_catalogue(workspace), clock.now(workspace)
    people = audience_query(who, workspace, catalogue, now).order_by().values("pk")
    with transaction.atomic(), expensive_read(workspace, _SECONDS):
        row = FrozenGroup(
            workspace=workspace,
            name=name,
            made_at=now,
            made_by=member,
            of=say(who, catalogue)[:500],
        )
        row.save(force_insert=True)
        statement, values = people.query.sql_with_params()
        table = connection.ops.quote_name(FrozenMember._meta.db_table)
        persons = connection.ops.quote_name(Subscriber._meta.db_table)
        with connection.cursor() as cursor:
            # Whoever is erased meanwhile is passed over, and nobody is while this goes on.
            cursor.execute(
                f"INSERT INTO {table} (id, workspace_id, subscriber_id, group_id) "
                f"SELECT gen_random_uuid(), %s, person.id, %s FROM {persons} AS person "
                f"WHERE person.id IN ({statement}) FOR KEY SHARE OF person",
                [workspace.pk, row.pk, *values],
            )
            if cursor.rowcount == 0:
                raise Refused("Nobody fits this now, so there is nobody to keep.")
        catalogue_changed(workspace)
    return row


@changes("renamed the frozen group “{row.name}” to “{name}”")
def rename_group(row: FrozenGroup, name: str) -> FrozenGroup:
    """Give it another name."""
    row.name = free_name(FrozenGroup.objects.of(row.workspace), name, "frozen group", besides=row)
    row.save(update_fields=["name"])
    catalogue_changed(row.workspace)
    return row


@changes("deleted the frozen group “{row.name}”")
def remove_group(row: FrozenGroup) -> None:
    """Delete it, where nothing names it."""
    refuse_used(row.workspace, str(row.pk), row.name)
    workspace = row.workspace
    row.delete()
    catalogue_changed(workspace)
