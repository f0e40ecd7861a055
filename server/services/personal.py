"""What this room holds of people. Who is erased here is erased over there, as far as that can be."""

from datetime import timedelta
from uuid import UUID

from core.services import ServiceDescription
from server.people.models import Mention, Subscriber
from server.workspaces.among import among
from server.workspaces.personal import Subject, holds_nobody, holds_people
from server.workspaces.shapes import Json

from .listening import hand_leaving
from .models import MAY_BE_THERE, Attempt, Handoff, Heard, Plan, Service
from .outbox import Handoffs

ATTEMPTS_KEPT = timedelta(days=60)
HEARD_KEPT = timedelta(days=400)
ARRIVES_WITHIN = timedelta(minutes=2)
"""What was sent has been taken by then, or was given up."""


def _erase_handoffs(subject: Subject) -> None:
    """Each service that has them, or may have them, is told to erase them; what was sent and answered
    goes. The rows are locked first: a worker that has one in hand notes what became of it before this, or
    finds them gone."""
    own = Handoff.objects.of(subject.workspace).filter(subscriber=subject.person)
    rows = list(own.select_for_update(no_key=True).order_by("pk"))
    # Tests, and rows of sheets about somebody who was not known then.
    others = list(
        Handoff.objects.of(subject.workspace)
        .exclude(address="")
        .filter(subject.named_in("address", "iexact"), subscriber=None)
    )
    tested = {one.service_id for one in others if one.is_test and one.state == Handoff.State.DONE}
    handed = set(own.filter(MAY_BE_THERE).values_list("service", flat=True)) | tested
    person = Subscriber.everywhere.select_related("workspace").filter(pk=subject.person).first()
    if person is not None and not person.is_test:
        _tell(subject, person, handed, [one for one in rows if one.state == Handoff.State.SENDING])
    ids = [one.pk for one in (*rows, *others)]
    Attempt.everywhere.filter(among("handoff", ids)).delete()
    leaving = [
        one.pk
        for one in rows
        if one.address and one.state == Handoff.State.WAITING and not one.is_test
    ]
    over = [pk for pk in ids if pk not in leaving]
    emptied = Handoff.everywhere.filter(among("pk", over))
    emptied.update(answers=[], address="", outcome="", their_id="")
    emptied.filter(state__in=(Handoff.State.WAITING, Handoff.State.CONSENT)).update(
        state=Handoff.State.NOT_ALLOWED, outcome="The person was erased."
    )


def _tell(subject: Subject, person: Subscriber, handed: set[UUID], sending: list[Handoff]) -> None:
    """Tell services to erase somebody: once what is on its way has arrived, or it would come after."""
    handoffs = Handoffs()
    on_their_way = {one.service_id for one in sending}
    for service in Service.objects.of(subject.workspace).filter(pk__in=handed, passes_erasing=True):
        if ServiceDescription.model_validate(service.description).doing("erase"):
            after = ARRIVES_WITHIN if service.pk in on_their_way else timedelta()
            hand_leaving(handoffs, service, person, "erase", str(person.pk), after=after)
    handoffs.write()


def _erase_heard(subject: Subject) -> None:
    """What services told of them, whether it was taken or not."""
    rows = Heard.objects.of(subject.workspace)
    emptied: Json = {"content": None, "outcome": "", "address_key": ""}
    rows.filter(subscriber=subject.person).update(**emptied)
    rows.filter(address_key__in=subject.keys).update(**emptied)
    mentions = Mention.objects.of(subject.workspace).filter(key__in=subject.keys, kind="heard")
    rows.filter(pk__in=mentions.values("row")).update(**emptied)
    mentions.delete()


holds_people(
    Handoff,
    erasing="stays without the person; the services that have them are told to erase them",
    merging="moves",
    exporting="which services the person was handed to, and when",
    retention="as long as the person; the answers that went along go after the workspace's retention time",
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
