"""Double opt-in: the message that asks, and the one that welcomes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from html import escape

from django.db import transaction
from django.utils.translation import gettext as _

from core.documents import Because
from core.messages import ButtonBlock, MessageDocument, TextBlock
from core.people import ASKED_AGAIN_AFTER
from server.people.models import MailingList, Membership, Subscriber
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.among import among
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.languages import speaking
from server.workspaces.models import Member, Workspace

from .actions import queue_send
from .confirm_links import ORIGIN
from .editing import confirms as holds_link
from .editing import make_message, save_message
from .models import ListMail, Message, Send
from .outbox import Outbox


@changes("changed how the list “{row.name}” confirms")
def set_confirming(
    row: MailingList,
    confirms: bool,
    member: Member | None,
    asking: Message | None = None,
    welcome: Message | None = None,
) -> MailingList:
    """Ask people of a list to confirm by email first, or no longer; the message that asks is
    made where there is none."""
    if asking is not None and not holds_link(asking):
        raise refuse(
            "no_confirm_link",
            "asking",
            f"“{asking.name}” holds no link to confirm with.",
            "Put {{ confirm_link }} into a link of it, or choose another message.",
        )
    with transaction.atomic():
        row.confirms = confirms
        row.save(update_fields=["confirms"])
        mail = ListMail.everywhere.filter(list=row).first()
        if mail is None and confirms:
            made = asking or _first_message(row, member)
            mail = ListMail(workspace=row.workspace, list=row, asking=made)
        if mail is not None:
            mail.asking = asking or mail.asking
            mail.welcome = welcome
            mail.save()
        catalogue_changed(row.workspace)
    return row


def _first_message(row: MailingList, member: Member | None) -> Message:
    made = make_message(row.workspace, f"Confirm: {row.name}"[:80], member)
    language = row.language or row.workspace.language
    with speaking(language):
        document = _that_asks(row.shown_name.replace("{", "("), row.language)
    save_message(made, document, None, member)
    return made


def _that_asks(name: str, language: str) -> MessageDocument:
    asked = _("You, or somebody with your address, signed up for %(list)s. Please confirm it:")
    ends = _("If it was not you, do nothing, and you will not hear from us again.")
    named = escape(_("Hello %(name)s,")) % {"name": "{{ first_name }}"}
    greeting = f"{{% if first_name %}}{named}{{% else %}}{escape(_('Hello,'))}{{% endif %}}"
    return MessageDocument(
        subject=(_("Please confirm: %(list)s") % {"list": name})[:300],
        language=language,
        blocks=(
            TextBlock(
                id="asks",
                html=f"<p>{greeting}</p><p>{escape(asked % {'list': name})}</p>",
            ),
            ButtonBlock(id="yes", label=_("Yes, subscribe me"), link="{{ confirm_link }}"),
            TextBlock(id="no", html=f"<p>{escape(ends)}</p>"),
        ),
    )


@dataclass(frozen=True)
class Asking:
    """Somebody who is asked to confirm a list."""

    subscriber: Subscriber
    list: str
    because: Because


def ask_to_confirm(workspace: Workspace, asking: Sequence[Asking], at: datetime) -> None:
    """Send the emails that ask, each with a fresh link; at most once in ten minutes.

    In few statements, however many they are.
    """
    if not asking:
        return
    people = {one.subscriber.pk for one in asking}
    rows = Membership.objects.of(workspace).filter(among("subscriber", people))
    memberships = {
        (person, str(one)): pk for pk, person, one in rows.values_list("pk", "subscriber", "list")
    }
    messages = {one: _message_that_asks(workspace, one) for one in {one.list for one in asking}}
    lately = Send.objects.of(workspace).filter(
        among("subscriber", people),
        origin__startswith=ORIGIN,
        queued_at__gt=at - ASKED_AGAIN_AFTER,
    )
    asked = {origin.rpartition("/")[0] for origin in lately.values_list("origin", flat=True)}
    outbox = Outbox()
    for one in asking:
        membership = memberships.get((one.subscriber.pk, one.list))
        if membership is None or f"{ORIGIN}{membership}" in asked:
            continue
        outbox.add(
            one.subscriber,
            messages[one.list],
            one.list,
            f"{ORIGIN}{membership}/{int(at.timestamp())}",
            one.because,
            at,
            act=one.because.act,
            answers=[],
        )
    outbox.write()


def _message_that_asks(workspace: Workspace, list_id: str) -> str:
    """The message of a list that asks. Where a route asks for it though the list does not, it is
    made now."""
    mail = ListMail.objects.of(workspace).filter(list=list_id).first()
    if mail is None:
        row = MailingList.objects.of(workspace).get(pk=list_id)
        row.workspace = workspace
        mail = ListMail(workspace=workspace, list=row, asking=_first_message(row, None))
        mail.save(force_insert=True)
        catalogue_changed(workspace)
    return str(mail.asking_id)


def welcome(membership: Membership, because: Because) -> None:
    """Send the message that welcomes, if the list has one; once."""
    mail = ListMail.everywhere.filter(list=membership.list_id).first()
    if mail is None or mail.welcome_id is None:
        return
    queue_send(
        membership.subscriber,
        str(mail.welcome_id),
        str(membership.list_id),
        f"welcome/{membership.pk}/{int(membership.changed_at.timestamp())}",
        because,
        clock.now(membership.workspace),
        act=because.act,
        answers=[],
    )
