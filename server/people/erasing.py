"""Erasing people: everything that any room holds of them, or their row alone."""

from django.db import transaction

from core.values import address_key
from server.workspaces.personal import Subject, erase_everywhere

from .addresses import addresses_of
from .chain import erase_evidence
from .erased import remember_erased
from .models import Fact, Subscriber


def erase_person(subscriber: Subscriber) -> None:
    """Remove a person and all that any room holds of them; the caller has locked them.

    A keyed hash of each of their addresses stays, so that no import brings them back; not of a test's.
    """
    addresses = addresses_of(subscriber)
    if not subscriber.is_test:
        for one in addresses:
            remember_erased(subscriber.workspace, one)
    erase_everywhere(
        Subject(
            workspace=subscriber.workspace,
            person=subscriber.pk,
            addresses=addresses,
            keys=(subscriber.address_key, *(address_key(one) for one in addresses[1:])),
            texts=_texts_of(subscriber),
        )
    )
    unmake_person(subscriber)


def _texts_of(subscriber: Subscriber) -> tuple[str, ...]:
    """Texts that are somebody's own, now or before, the longest first; the shortest say nothing."""
    found = [*subscriber.values.values()]
    for what in subscriber.facts.filter(kind=Fact.Kind.FIELD).values_list("what", flat=True):
        found += [what.get("before"), what.get("after")]
    names = (subscriber.values.get("first_name"), subscriber.values.get("last_name"))
    found.append(" ".join(str(one) for one in names if one))
    texts = {one for one in found if isinstance(one, str) and len(one) > 2}
    return tuple(sorted(texts, key=len, reverse=True))


def unmake_person(subscriber: Subscriber) -> None:
    """Remove the row of a person and what hangs on it; what they sent stays where it is. The
    caller has locked them."""
    with transaction.atomic():
        erase_evidence(list(subscriber.memberships.values_list("pk", flat=True)))
        subscriber.delete()
