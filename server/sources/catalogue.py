"""Everything that a route may refer to."""

from dataclasses import replace
from functools import lru_cache
from uuid import UUID

from core.people import Catalogue
from server.sequences.facts import catalogue_of
from server.workspaces.models import Workspace

from .models import Source


def full_catalogue(workspace: Workspace) -> Catalogue:
    """Everything that a route may refer to, as of the workspace's latest change."""
    return _full(workspace.pk, workspace.catalogue_version)


@lru_cache(maxsize=128)
def _full(workspace_id: UUID, version: UUID) -> Catalogue:
    workspace = Workspace(pk=workspace_id, catalogue_version=version)
    return replace(
        catalogue_of(workspace),
        sources={
            str(pk): name
            for pk, name in Source.objects.of(workspace).order_by("name").values_list("pk", "name")
        },
    )
