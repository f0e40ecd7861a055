"""Names that members give: cleaned, not empty, and each once."""

from django.db.models import Model, QuerySet

from .errors import refuse
from .scoping import WorkspaceRow


def free_name(
    rows: QuerySet[WorkspaceRow],
    name: str,
    kind: str,
    *,
    field: str = "name",
    besides: Model | None = None,
) -> str:
    """The name as it is kept, if no other of `rows` (of a workspace) has it, in whatever case.

    `kind`: what the rows are, in words ("source"); `besides`: the row that is renamed.
    """
    name = " ".join(name.split())[:80]
    if not name:
        raise refuse("no_name", field, "It needs a name.", f"Write what the {kind} is for.")
    others = rows.filter(**{f"{field}__iexact": name})
    if besides is not None:
        others = others.exclude(pk=besides.pk)
    if others.exists():
        raise refuse(
            "exists", field, f"There is a {kind} named “{name}” already.", "Choose another name."
        )
    return name
