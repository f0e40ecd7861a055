"""What this room holds of people. Who is erased here is erased over there, as far as that can be."""

from datetime import timedelta

from core.services import ServiceDescription
from server.people.models import Subscriber
from server.workspaces.among import among
from server.workspaces.personal import Subject, holds_nobody, holds_people

from .listening import hand_leaving
from .models import Attempt, Handoff, Heard, Plan, Service
from .outbox import Handoffs

ATTEMPTS_KEPT = timedelta(days=60)
HEARD_KEPT = timedelta(days=400)


def _erase_handoffs(subject: Subject) -> None:
    """Each service that has them is told to erase them; what was sent and answered goes."""
    rows = Handoff.objects.of(subject.workspace).filter(subscriber=subject.person)
    handed = set(
        rows.filter(state__in=(Handoff.State.DONE, Handoff.State.SENDING)).values_list(
            "service", flat=True
        )
    )
    person = Subscriber.everywhere.select_related("workspace").filter(pk=subject.person).first()
    if person is not None and not person.is_test:
        handoffs = Handoffs()
        for service in Service.objects.of(subject.workspace).filter(
            pk__in=handed, passes_erasing=True
        ):
            if ServiceDescription.model_validate(service.description).doing("erase"):
                hand_leaving(handoffs, service, person, "erase", str(person.pk))
        handoffs.write()
    ids = list(rows.values_list("pk", flat=True))
    Attempt.everywhere.filter(among("handoff", ids)).delete()
    leaving = rows.filter(origin__startswith="erase/") | rows.filter(
        origin__startswith="unsubscribe/"
    )
    kept = set(leaving.filter(state=Handoff.State.WAITING).values_list("pk", flat=True))
    over = [pk for pk in ids if pk not in kept]
    Handoff.everywhere.filter(among("pk", over)).update(
        answers=[], address="", said="", their_id=""
    )
    Handoff.everywhere.filter(
        among("pk", over), state__in=(Handoff.State.WAITING, Handoff.State.CONSENT)
    ).update(state=Handoff.State.NOT_ALLOWED, said="The person was erased.")


def _erase_heard(subject: Subject) -> None:
    """What services told of them, whether it was taken or not."""
    rows = Heard.objects.of(subject.workspace)
    rows.filter(subscriber=subject.person).update(content=None, said="")
    rows.filter(content__icontains=subject.address).update(content=None, said="")


holds_people(
    Handoff,
    erasing="stays without the person; the services that have them are told to erase them",
    merging="moves",
    exporting="which services the person was handed to, and when",
    retention="as long as the person",
    erase=_erase_handoffs,
    moves=True,
)
holds_people(
    Attempt,
    erasing="removed",
    merging="stays with its handoff",
    exporting="no: the handoff is",
    retention="60 days",
)
holds_people(
    Heard,
    erasing="its content is emptied",
    merging="moves",
    exporting="no: the event in the trail is",
    retention="emptied after 400 days",
    erase=_erase_heard,
    moves=True,
)
holds_nobody(Service, Plan, why="how a service is spoken to, and what is handed over")
