"""What a person asks for and confirms by a link in their inbox: their page, their data, another
address, being erased. Nothing is done by asking; whoever has a forwarded email can only ask."""

from datetime import timedelta

from django.template.loader import render_to_string
from django.utils.translation import gettext as _
from django.utils.translation import gettext_noop

from core.documents import Because
from core.people import ASKED_AGAIN_AFTER
from server.people.facts import language_of
from server.people.links import own_address, request_address
from server.people.models import OwnRequest, Subscriber
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.languages import speaking, spoken

from .compose import notice
from .jobs import OWN_REQUEST

Kind = OwnRequest.Kind
MOST_A_DAY = 5
_SUBJECTS = {
    Kind.PAGE: gettext_noop("Your emails from %(name)s"),
    Kind.DATA: gettext_noop("What %(name)s knows about you"),
    Kind.ERASE: gettext_noop("Delete your data at %(name)s?"),
    Kind.ADDRESS: gettext_noop("Your new address at %(name)s"),
    Kind.CHANGED: gettext_noop("Your address at %(name)s was changed"),
}


def ask(
    subscriber: Subscriber,
    kind: OwnRequest.Kind,
    because: Because,
    *,
    to: str = "",
    new_address: str = "",
) -> bool:
    """Send the link that confirms a request, at most once in ten minutes and five times a
    day; whether it goes out.

    `to`: the address that has to agree, where that is not the person's own.
    """
    now = clock.now(subscriber.workspace)
    to = to or subscriber.address
    asked = OwnRequest.objects.of(subscriber.workspace).filter(subscriber=subscriber, kind=kind)
    if asked.filter(to=to, asked_at__gt=now - ASKED_AGAIN_AFTER).exists():
        return False
    # Nobody writes to many inboxes from one page.
    if asked.filter(asked_at__gt=now - timedelta(days=1)).count() >= MOST_A_DAY:
        return False
    row = OwnRequest.everywhere.create(
        workspace=subscriber.workspace,
        subscriber=subscriber,
        kind=kind,
        to=to,
        new_address=new_address,
        asked_at=now,
        because=because.as_json(),
    )
    OWN_REQUEST.defer(request_id=str(row.pk))
    return True


def tell_old_address(subscriber: Subscriber, old: str) -> None:
    """Tell the address that somebody had that it is changed, in case it was not them."""
    now = clock.now(subscriber.workspace)
    row = OwnRequest.everywhere.create(
        workspace=subscriber.workspace,
        subscriber=subscriber,
        kind=Kind.CHANGED,
        to=old,
        new_address=subscriber.address,
        asked_at=now,
        because={},
    )
    OWN_REQUEST.defer(request_id=str(row.pk))


def send_link(request_id: str) -> None:
    """Send the email with the link, if the request still stands."""
    row = (
        OwnRequest.everywhere.select_related("workspace", "subscriber__workspace")
        .filter(pk=request_id, done_at=None)
        .first()
    )
    if row is None:
        return
    workspace = row.workspace
    if not workspace.sender_address:
        report(
            workspace,
            Snag.About.SEND,
            "no_sender",
            "A person asked for something by their own page, and the workspace has no address "
            "to send the link from.",
            "Set the sender in the settings; the person has to ask again.",
            {"person": str(row.subscriber_id)},
        )
        return
    kind = Kind(row.kind)
    link = request_address(row.pk, row.asked_at)
    if kind == Kind.PAGE:
        link = own_address(row.subscriber_id, row.asked_at)
    elif kind == Kind.CHANGED:
        link = ""
    language = language_of(row.subscriber)
    context = {"row": row, "workspace": workspace, "link": link, "kind": kind.value}
    context |= spoken(language)
    with speaking(language):
        mail = notice(
            workspace.sender_name,
            workspace.sender_address,
            row.to,
            _(_SUBJECTS[kind]) % {"name": workspace.name},
            clock.now(workspace),
            render_to_string("mail/own_request.txt", context),
            render_to_string("mail/own_request.html", context),
        )
    mail.send()
