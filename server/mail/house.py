"""How a workspace's letters look, what is counted of them, and how fast they go out."""

from datetime import date

from core.documents import Problem
from core.messages import HouseStyle
from core.values import read_email, read_language
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
    answers = ""
    if reply_to.strip():
        read = read_email(reply_to)
        if isinstance(read, Problem):
            raise refuse(read.code, "reply_to", read.sentence, read.fix)
        answers = read
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
