"""What names an audience or a frozen group: then it cannot be deleted."""

from collections.abc import Callable

from server.mail.models import MessageRevision
from server.sources.uses import users_of
from server.workspaces.errors import Refused
from server.workspaces.models import Revision, Workspace

from .models import AudienceRevision

Says = Callable[[Workspace, str], list[str]]
"""By a workspace and an id: what names it, in words."""
_SAYS: list[Says] = []


def named_by(says: Says) -> None:
    """Register what else names audiences and groups: this room does not know the rooms above."""
    _SAYS.append(says)


def users_in_words(workspace: Workspace, pk: str) -> list[str]:
    """What names it by what is live or drafted, in words."""
    found = {f"the {one.kind} “{one.name}”" for one in users_of(workspace).get(pk, [])}
    shown = AudienceRevision.objects.of(workspace).exclude(state=Revision.State.PAST)
    named = shown.filter(document__icontains=pk).select_related("audience")
    found |= {f"the audience “{one.audience.name}”" for one in named}
    texts = MessageRevision.objects.of(workspace).exclude(state=Revision.State.PAST)
    written = texts.filter(document__icontains=pk).select_related("message")
    found |= {f"the message “{one.message.name}”" for one in written}
    return [*sorted(found), *(one for says in _SAYS for one in says(workspace, pk))]


def refuse_used(workspace: Workspace, pk: str, name: str) -> None:
    """Refuse to delete what is named: whoever it keeps out of something would come in."""
    if users := users_in_words(workspace, pk):
        more = f" and {len(users) - 5} more" if len(users) > 5 else ""
        raise Refused(
            f"“{name}” is used by {', '.join(users[:5])}{more}. Take it out there first, then delete it."
        )
