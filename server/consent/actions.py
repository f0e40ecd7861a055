"""A person leaves: off the list, and at once out of what its emails belong to."""

from core.because import Because
from server.mail.models import Send
from server.people.actions import unsubscribe
from server.people.models import MailingList
from server.sequences.actions import leave_sequences_of_lists


def leave(send: Send, *, everything: bool, one_click: bool) -> None:
    """Unsubscribe the person a send went to: from its list, or from every list."""
    because = Because(
        kind="person",
        sentence=(
            "they unsubscribed with one click in their mail program"
            if one_click
            else "they unsubscribed on the page behind the link"
        ),
        send_id=str(send.pk),
    )
    lists = MailingList.objects.of(send.workspace)
    if not everything:
        lists = lists.filter(pk=send.list_id)
    left = unsubscribe(send.subscriber, None if everything else lists, because, f"email {send.pk}")
    leave_sequences_of_lists(send.subscriber, left, because)
