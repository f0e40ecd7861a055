"""Emails as somebody would get them, to a member who tries them: marked as a test, and nothing counts."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import uuid4

from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection

from core.documents import Problem
from core.messages import counted_links
from core.people import Person
from core.values import read_email
from server.workspaces import clock
from server.workspaces.errors import refuse
from server.workspaces.models import Workspace

from .compose import Letter, to_send
from .models import Message, live_document
from .preflight import NOWHERE
from .senders import Sender
from .writing import Reader, WrittenMessage, write_message

MOST = 100
"""Emails of one test."""


@dataclass(frozen=True)
class Trial:
    """A message, and when it would go, in the words of the person's own zone."""

    message: Message
    when: str
    moment: datetime


def send_trials(
    workspace: Workspace, trials: Sequence[Trial], person: Person, to: str, sender: Sender
) -> list[Problem]:
    """Send each email that `person` would get to the address of a member; what could not be made, each
    with its message. The links of a test lead nowhere."""
    if not sender.address:
        raise refuse(
            "no_sender",
            "sender",
            "The workspace has no address to send from.",
            "Set the sender in the settings of the workspace.",
        )
    if isinstance(wrong := read_email(sender.address), Problem):
        raise refuse("sender", "sender", f"“{sender.address}”: {wrong.sentence}", wrong.fix)
    now = clock.now(workspace)
    mails, problems = [], []
    for number, one in enumerate(trials[:MOST], start=1):
        document = live_document(one.message)
        written = write_message(workspace, document, Reader(person), NOWHERE)
        if isinstance(written, Problem):
            problems.append(written.model_copy(update={"place": one.message.name}))
            continue
        if written.holes:
            sentence = f"“{one.message.name}” needs {', '.join(written.holes)}, which is empty."
            problems.append(
                Problem(
                    code="hole",
                    place=one.message.name,
                    sentence=f"{sentence} Live it would be held.",
                    fix="Give it a fallback in the message.",
                )
            )
        mails.append(trial_of(sender, written, to, f"Test {number}, {one.when}", now))
    if mails:
        get_connection().send_messages(mails)
    return problems


def trial_of(
    sender: Sender, written: WrittenMessage, to: str, mark: str, now: datetime
) -> EmailMultiAlternatives:
    """An email as somebody would get it, marked as a test; nothing in it is counted."""
    filled = written.filled
    return to_send(
        Letter(
            identity=f"test-{uuid4()}",
            sender_name=sender.name,
            sender_address=sender.address,
            reply_to=sender.reply_to,
            to=to,
            subject=f"[{mark}] {filled.subject}",
            html=counted_links(filled.html, lambda _, address: address),
            text=filled.text,
            leave=f"{settings.PUBLIC_ADDRESS}/#test",
            date=now,
            language=written.template.language,
        )
    )
