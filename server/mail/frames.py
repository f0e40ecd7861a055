"""What stands around every letter of a workspace, in the language of the letter."""

from enum import Enum, auto

from core.messages import Frame, MessageDocument
from server.people.models import MailingList
from server.workspaces.languages import speaking
from server.workspaces.languages import translated as _
from server.workspaces.models import Workspace


def language_of_letter(
    workspace: Workspace, document: MessageDocument, to_list: MailingList | None = None
) -> str:
    """The language of a message: its own, that of its list, or that of the workspace."""
    return document.language or (to_list and to_list.language) or workspace.language


class Stands(Enum):
    """Where a letter stands: in an email, in one that has a page besides, or on that page."""

    ALONE = auto()
    WITH_PAGE = auto()
    ON_PAGE = auto()


def frame_of(
    workspace: Workspace,
    language: str,
    to_list: MailingList | None = None,
    *,
    asks: bool = False,
    stands: Stands = Stands.ALONE,
) -> Frame:
    """The frame of a letter to a list; `asks`: whoever gets it has not signed up for anything yet. On a
    page, which may be passed on, nothing speaks to its person or acts for them."""
    on_page = stands is Stands.ON_PAGE
    with speaking(to_list.voice(workspace, language) if to_list else language):
        return Frame(
            sender_name=(to_list and to_list.sender_name)
            or workspace.sender_name
            or workspace.name,
            postal_address=workspace.postal_address,
            language=language,
            why="" if on_page else _why(to_list.shown_name if to_list else "", asks=asks),
            leave="" if on_page else _("Unsubscribe"),
            own_page="" if on_page else _("Your emails and your data"),
            in_browser=_("Read it in a browser") if stands is Stands.WITH_PAGE else "",
        )


def _why(list_name: str, *, asks: bool) -> str:
    if asks:
        sentence = _("You are receiving this email because this address was entered for %(list)s.")
        unnamed = _("You are receiving this email because this address was entered in a form.")
        ends = _("If it was not you, do nothing, and you will not hear from us again.")
        return f"{sentence % {'list': list_name} if list_name else unnamed} {ends}"
    if list_name:
        return _("You are receiving this email because you signed up for %(list)s.") % {
            "list": list_name
        }
    return _("You are receiving this email because you signed up.")
