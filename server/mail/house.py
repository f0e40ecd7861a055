"""How a workspace's letters look, what is counted of them, and how fast they go out."""

from datetime import date

from core.documents import Problem
from core.messages import HouseStyle
from core.values import read_email, read_language
from server.people.models import MailingList
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import refuse
from server.workspaces.history import OWNERS, changes
from server.workspaces.models import Workspace


@changes("changed how emails look and go out", roles=OWNERS)
def set_mail(
    workspace: Workspace,
    *,
    style: HouseStyle,
    language: str,
    reply_to: str,
    counts_opens: bool,
    counts_clicks: bool,
    hourly_emails: int | None,
    hourly_per_domain: int | None,
    warms_up_from: date | None,
) -> Workspace:
    """Change the settings of emails."""
    answers = _address(reply_to, "reply_to")
    known = read_language(language or "en")
    if isinstance(known, Problem):
        raise refuse(known.code, "language", known.sentence, known.fix)
    workspace.house_style = style.model_dump(mode="json")
    workspace.language = known
    workspace.reply_to = answers
    workspace.counts_opens, workspace.counts_clicks = counts_opens, counts_clicks
    workspace.hourly_emails, workspace.hourly_per_domain = hourly_emails, hourly_per_domain
    workspace.warms_up_from = warms_up_from
    workspace.save(
        update_fields=[
            "house_style",
            "language",
            "reply_to",
            "counts_opens",
            "counts_clicks",
            "hourly_emails",
            "hourly_per_domain",
            "warms_up_from",
        ]
    )
    catalogue_changed(workspace)
    return workspace


@changes("changed who the emails of “{row.name}” are from")
def set_sender(row: MailingList, name: str, address: str, reply_to: str) -> MailingList:
    """Who the emails of a list are from; what is empty is as the workspace says."""
    row.sender_name = " ".join(name.split())[:120]
    row.sender_address = _address(address, "sender_address")
    row.reply_to = _address(reply_to, "reply_to")
    row.save(update_fields=["sender_name", "sender_address", "reply_to"])
    return row


def _address(text: str, place: str) -> str:
    if not text.strip():
        return ""
    read = read_email(text)
    if isinstance(read, Problem):
        raise refuse(read.code, place, read.sentence, read.fix)
    return read
