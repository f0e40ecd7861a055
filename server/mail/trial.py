"""Emails as somebody would get them, to a member who tries them: marked as a test, and nothing counts."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import uuid4

from django.core.mail import get_connection

from core.documents import Problem
from core.messages import context_of, with_links
from core.people import Person
from server.people.facts import fields_of
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.models import Workspace

from .compose import Letter, clean_body, to_send
from .models import Message, live_text
from .sandbox import personalise

MOST = 100
"""Emails of one test."""


@dataclass(frozen=True)
class Trial:
    """A message, and when it would go, in the words of the person's own zone."""

    message: Message
    when: str
    moment: datetime


def send_trials(
    workspace: Workspace, trials: Sequence[Trial], person: Person, to: str
) -> list[Problem]:
    """Send each email that `person` would get to the address of a member; what could not be made, each
    with its message. The links of a test lead nowhere."""
    if not workspace.sender_address:
        raise refuse(
            "no_sender",
            "sender",
            "The workspace has no address to send from.",
            "Set the sender in the settings of the workspace.",
        )
    fields = fields_of(workspace)
    now = clock.now(workspace)
    mails, problems = [], []
    for number, one in enumerate(trials[:MOST], start=1):
        ours = {"confirm_link": "#", "file_link": "#", "own_page": "#"}
        text = with_links(live_text(one.message), ours)
        rendered = personalise(text, context_of(person, fields))
        if isinstance(rendered, Problem):
            problems.append(rendered.model_copy(update={"place": one.message.name}))
            continue
        if rendered.holes:
            said = f"“{one.message.name}” needs {', '.join(rendered.holes)}, which is empty."
            problems.append(
                Problem(
                    code="hole",
                    place=one.message.name,
                    sentence=f"{said} Live it would be held.",
                    fix="Give it a fallback in the message.",
                )
            )
        mails.append(
            to_send(
                Letter(
                    identity=f"test-{uuid4()}",
                    sender_name=workspace.sender_name,
                    sender_address=workspace.sender_address,
                    postal_address=workspace.postal_address,
                    to=to,
                    subject=f"[Test {number}, {one.when}] {rendered.subject}",
                    preheader=rendered.preheader,
                    body=clean_body(rendered.body),
                    leave="#",
                    own="#",
                    list_name="",
                    date=now,
                )
            )
        )
    if mails:
        get_connection().send_messages(mails)
    return problems
