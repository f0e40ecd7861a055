"""From whom an email comes: the workspace, the list that it goes to, or its sequence."""

from collections.abc import Mapping
from dataclasses import dataclass
from uuid import UUID

from core.delivering import SendingTimes
from server.people.models import MailingList
from server.workspaces.models import Workspace


@dataclass(frozen=True)
class OwnSending:
    """How a sequence sends, where it says so itself."""

    times: SendingTimes | None
    priority: int


@dataclass(frozen=True)
class OwnBroadcast:
    """What a broadcast says of its emails."""

    waits: bool
    """Whether they may move to a later time."""
    subjects: Mapping[str, str]
    """By version, in place of the message's; none for those that have the message's."""
    revisions: Mapping[str, UUID]
    """By version: the text that goes out, as it was when the broadcast was set off."""
    page: str
    """Where everybody can read it; empty where it has no page."""


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
