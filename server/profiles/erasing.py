"""Erasing a person: all that is personal goes, everywhere; a keyed hash of the address stays."""

from server.people.erasing import erase_person
from server.people.locks import locked_person, retried
from server.people.models import Subscriber
from server.workspaces.history import changes


@changes("erased a person")
@retried
def erase(subscriber: Subscriber) -> None:
    """Erase a person for good, because they or the law ask for it.

    What comes in of them at this moment is decided before, or after.
    """
    person = locked_person(lambda: subscriber.pk)
    if person is None:
        return
    erase_person(person)
