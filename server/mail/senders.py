"""From whom an email comes: the workspace, the list that it goes to, or its sequence."""

from dataclasses import dataclass

from core.delivering import SendingTimes
from server.people.models import MailingList
from server.workspaces.models import Workspace


@dataclass(frozen=True)
class OwnSending:
    """How a sequence sends, where it says so itself."""

    times: SendingTimes | None
    priority: int


@dataclass(frozen=True)
class Sender:
    """Name and address of the From field, and where replies go (empty: to the address)."""

    name: str
    address: str
    reply_to: str = ""

    @property
    def domain(self) -> str:
        """The domain of the address, which signs."""
        return self.address.rpartition("@")[2]


def sender_of(
    workspace: Workspace, to_list: MailingList | None, own: Sender | None = None
) -> Sender:
    """The sender of emails to a list, or of a sequence (`own`): what the sequence does not say, the
    list does, and else the workspace."""
    return Sender(
        name=(own and own.name) or (to_list and to_list.sender_name) or workspace.sender_name,
        address=(own and own.address)
        or (to_list and to_list.sender_address)
        or workspace.sender_address,
        reply_to=(own and own.reply_to) or (to_list and to_list.reply_to) or workspace.reply_to,
    )
