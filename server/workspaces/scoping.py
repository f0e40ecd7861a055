"""The one place where rows are scoped by workspace.

`Model.objects.of(workspace)` is the only way in that answers; `Model.objects.all()` and
its kin raise. `Model.everywhere` is for Django itself and for jobs that are given an id
by the server, never by a caller.
"""

from typing import Any, NoReturn, TypeVar

from django.db import models

from .ids import new_id
from .workspace import Workspace

Row = TypeVar("Row", bound=models.Model)


class Unscoped(RuntimeError):
    """A query over every workspace where one was meant."""


class ScopedManager(models.Manager[Row]):
    """Answers only through `of`."""

    def of(self, workspace: Workspace) -> models.QuerySet[Row]:
        """The rows of one workspace."""
        return super().get_queryset().filter(workspace=workspace)

    def get_queryset(self) -> NoReturn:
        raise Unscoped(f"Use {self.model.__name__}.objects.of(workspace).")


class WorkspaceRow(models.Model):
    """A row that belongs to a workspace."""

    id = models.UUIDField(primary_key=True, default=new_id, editable=False)
    workspace = models.ForeignKey("workspaces.Workspace", on_delete=models.CASCADE)

    everywhere: Any = models.Manager()
    objects: Any = ScopedManager()

    class Meta:
        abstract = True
