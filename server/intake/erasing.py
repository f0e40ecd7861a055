"""Erasing a person: all that is personal goes, everywhere; a keyed hash of the address stays."""

from django.db import transaction
from django.db.models import Q

from server.people.erased import remember_erased
from server.people.models import Subscriber
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.history import changes

from .arrivals import take_jobs
from .models import Call, RefusedRow, ReplayLine, Submission
from .routing import locked_people


@changes("erased a person")
def erase(subscriber: Subscriber) -> None:
    """Erase a person for good, because they or the law ask for it."""
    workspace, address = subscriber.workspace, subscriber.address
    with transaction.atomic():
        # What comes in of them at this moment is decided before, or after.
        locked_people(workspace, [(address, subscriber.is_test)])
        if not subscriber.is_test:
            remember_erased(workspace, address)
        theirs = Submission.objects.of(workspace).filter(subscriber=subscriber)
        ids = [str(pk) for pk in theirs.values_list("pk", flat=True)]
        take_jobs(theirs.filter(state="received").values_list("pk", flat=True))
        calls = Call.objects.of(workspace).filter(submission__in=ids)
        calls.update(body=b"", headers={})
        theirs.update(
            forgotten_at=clock.now(workspace), subscriber=None, snag=None, **Submission.EMPTIED
        )
        # Snags name the address in their sentences.
        named = Q(sentence__icontains=address) | Q(place__person=str(subscriber.pk))
        Snag.objects.of(workspace).filter(named).delete()
        ReplayLine.objects.of(workspace).filter(address=address).delete()
        RefusedRow.objects.of(workspace).filter(cells__icontains=address).update(cells=[])
        subscriber.delete()
