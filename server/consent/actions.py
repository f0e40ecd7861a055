"""What a person does by a link: leaving a list, and with it what its emails belong to; confirming."""

from django.db import transaction

from core.documents import Because
from server.mail.confirm_links import Asked
from server.mail.confirming import welcome
from server.mail.models import Send
from server.people.locks import locked_person, retried
from server.people.memberships import confirm, unsubscribe
from server.people.models import MailingList, Membership
from server.sequences.entering import leave_sequences_of_lists
from server.workspaces import clock


@retried
def leave(send: Send, *, everything: bool, by: str, ip: str = "") -> None:
    """Unsubscribe the person a send went to: from its list, or from every list. `by`: what they did it
    with, such as “on the page behind the link”."""
    rows = Send.everywhere.filter(pk=send.pk)
    person = locked_person(lambda: rows.values_list("subscriber_id", flat=True).first())
    if person is None:
        # Erased since: nothing of theirs is left to unsubscribe.
        return
    because = Because(
        kind="person",
        sentence=f"they unsubscribed {by}",
        send_id=str(send.pk),
    )
    lists = MailingList.objects.of(send.workspace)
    if not everything:
        lists = lists.filter(pk=send.list_id)
    wanted = None if everything else lists
    left = unsubscribe(person, wanted, because, f"email {send.pk}", ip)
    leave_sequences_of_lists(send.workspace, [(person, one) for one in left])
    if left:
        rows.filter(left_at=None).update(left_at=clock.now(send.workspace))


@retried
def confirm_subscription(
    asked: Asked, wording: str, page: str, ip: str = ""
) -> tuple[Membership, bool, str]:
    """Confirm what a link asks for, shown this wording; the membership, whether it changed, and why it
    did not."""
    membership = Membership.everywhere.select_related("workspace", "list", "subscriber").get(
        pk=asked.membership
    )
    with transaction.atomic():
        changed, why = confirm(membership, asked.at, wording, page, ip)
        membership.refresh_from_db()
        if changed:
            because = Because(
                kind="person", sentence="they confirmed it by the link in the email", own=True
            )
            welcome(membership, because)
    return membership, changed, why
