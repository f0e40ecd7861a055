"""Handing over again what failed, and trying a handoff before anything is turned on."""

from collections.abc import Iterable

from django.db import transaction
from django.db.models import QuerySet

from core.deciding import HandOver, Prepared, RouteDocument, prepare
from core.documents import Because, Problem
from core.people import Person
from core.sequences import SequenceDocument
from core.services import Handover, ServiceDescription, found
from server.people.addresses import find_by_address
from server.people.facts import person_of, values_of
from server.people.models import Subscriber
from server.people.suppression import suppressed_among
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.shapes import Json

from .calls import Answer, Line
from .facts import known, service_facts
from .handing import catalogue_for
from .models import Handoff, Service
from .outbox import Handoffs, defer_for
from .trying import hand_over, seen_at

_MOST = 5_000
Current = dict[str, Handover]
"""What lines hand over now, by the id of the line."""


def current_of(documents: Iterable[RouteDocument | SequenceDocument]) -> Current:
    """What the live documents hand over now."""
    current: Current = {}
    for one in documents:
        if isinstance(one, RouteDocument):
            current |= {
                rule.id: rule.action.handover
                for rule in one.then
                if isinstance(rule.action, HandOver)
            }
            continue
        for lane in one.lanes:
            for step in lane.steps:
                action = getattr(step, "action", None)
                if isinstance(action, HandOver):
                    current[step.id] = action.handover
    return current


@changes("handed people to “{service.name}” again")
def hand_over_again(service: Service, rows: QuerySet[Handoff], current: Current) -> int:
    """Try these that failed once more, by what their rule or step says now; how many."""
    now = clock.now(service.workspace)
    failed = list(
        rows.filter(
            service=service,
            state__in=(Handoff.State.FAILED, Handoff.State.NOT_POSSIBLE, Handoff.State.NOT_ALLOWED),
        ).order_by("pk")[:_MOST]
    )
    plans = Handoffs()
    with transaction.atomic():
        for row in failed:
            handover = current.get(row.line)
            if handover is not None and handover.service == str(service.pk):
                row.plan = plans.plan(row.workspace_id, handover)
        plans.keep_plans({row.plan_id for row in failed})
        for row in failed:
            row.state, row.due_at, row.tries = Handoff.State.WAITING, now, 0
            row.done_at, row.fault, row.outcome = None, "", ""
        Handoff.everywhere.bulk_update(
            failed,
            ["plan", "state", "due_at", "tries", "done_at", "fault", "outcome"],
            batch_size=500,
        )
        _close(service)
        defer_for([service.pk])
    return len(failed)


def _close(service: Service) -> None:
    """Snags of causes that nothing fails by any more are over."""
    left = set(
        Handoff.everywhere.filter(service=service, state=Handoff.State.FAILED)
        .values_list("fault", flat=True)
        .distinct()
    )
    for one in Snag.objects.of(service.workspace).filter(
        closed_at=None, cause__startswith=f"handoff/{service.pk}/"
    ):
        if one.place.get("fault") not in left:
            one.closed_at = clock.now(service.workspace)
            one.save(update_fields=["closed_at"])


@changes("tried again one handoff to “{row.service.name}”")
def one_again(row: Handoff, current: Current) -> None:
    """Try one once more; one that waits for its next try is tried now."""
    if row.state == Handoff.State.WAITING:
        _try_now(row)
        return
    hand_over_again(row.service, Handoff.everywhere.filter(among("pk", [row.pk])), current)


def _try_now(row: Handoff) -> None:
    """Bring forward what waits, and the end of the pause of a service that did not answer."""
    now = clock.now(row.workspace)
    with transaction.atomic():
        # Only while it waits: a worker may have it in hand by now.
        Handoff.everywhere.filter(
            among("pk", [row.pk]), state=Handoff.State.WAITING, due_at__gt=now
        ).update(due_at=now)
        Service.objects.of(row.workspace).filter(pk=row.service_id, open_until__gt=now).update(
            open_until=now
        )
        defer_for([row.service_id])


def prepared_for(
    service: Service,
    handover: Handover,
    answers: tuple[tuple[str, str], ...],
    person: Subscriber | None,
    values: Json,
) -> Prepared | Problem:
    """What would be handed over of somebody, or of what a sample was read into (`values`, by key)."""
    facts = service_facts(service)
    catalogue = catalogue_for(service.workspace, facts)
    own = values_of(person) if person else {}
    given = {
        key: tuple(one) if isinstance(one, list) else one
        for key, one in values.items()
        if isinstance(one, str | bool | list)
    }
    address = str(given.get("email") or (person.address if person else ""))
    return prepare(
        handover, facts, Person(address=address, values={**own, **given}), answers, catalogue
    )


@changes("tested a handoff to “{service.name}”", whole=False)
def test_handoff(
    service: Service,
    handover: Handover,
    answers: tuple[tuple[str, str], ...],
    person: Subscriber | None,
    values: Json,
) -> tuple[Handoff, list[tuple[str, Answer]], str]:
    """Hand over one sample at once, marked as a test; what was asked, what came back, and where it can
    be seen."""
    prepared = prepared_for(service, handover, answers, person, values)
    if isinstance(prepared, Problem):
        raise refuse(prepared.code, "operation", prepared.sentence, prepared.fix)
    if prepared.waits:
        wrong = prepared.problems[-1]
        raise refuse(wrong.code, "sample", wrong.sentence, wrong.fix)
    address = str(values.get("email") or (person.address if person else ""))
    if not address:
        raise refuse("no_address", "sample", "The sample has no address.", "Choose another sample.")
    workspace = service.workspace
    if prepared.operation.marketing:
        _must_have_agreed(service, handover, address)
    now = clock.now(workspace)
    rows = Handoffs()
    row = rows.add_row(
        None,
        service.pk,
        handover,
        f"test/{now.isoformat()}",
        now,
        Because(kind="member", sentence="a test before turning on"),
        operation=prepared.operation.label,
        address=address,
        workspace=workspace.pk,
        is_test=True,
    )
    row.state, row.began_at = Handoff.State.SENDING, now
    with Line(service) as line:
        made = hand_over(
            line,
            handover,
            prepared,
            address,
            f"{service.pk}/{row.origin}",
            looks_first=False,
            is_test=True,
            now=now,
        )
    done = made.verdict.means == "done"
    row.state = Handoff.State.DONE if done else Handoff.State.FAILED
    row.outcome, row.their_id = made.verdict.sentence[:300], made.verdict.their_id[:200]
    row.done_at = now
    rows.write(defers=False)
    described = ServiceDescription.model_validate(service.description)
    return row, made.answers, seen_at(described, row.their_id, address) if done else ""


def _must_have_agreed(service: Service, handover: Handover, address: str) -> None:
    """A test is real over there: only a member's own address goes to a marketing list, or that of somebody
    who is subscribed here."""
    workspace = service.workspace
    own = {one.user.email.lower() for one in workspace.members.select_related("user")}
    if address.lower() in own:
        return
    named = handover.list_of(service_facts(service))
    about = find_by_address(workspace, address)
    suppressed = bool(suppressed_among(workspace, [address]))
    person = (
        person_of(about, tags=False, suppressed=suppressed) if about else Person(address=address)
    )
    if suppressed or not named or person.membership(named) != "subscribed":
        raise refuse(
            "not_subscribed",
            "sample",
            "Whoever the sample is from is not subscribed, so nobody is handed over, even as a test.",
            "Enter a sample with your own address.",
        )


@changes("took a test away from “{row.service.name}”", whole=False)
def take_away(row: Handoff) -> str:
    """Remove over there what a test made, where the service can; what came of it, in words."""
    service = row.service
    described = ServiceDescription.model_validate(service.description)
    operation = described.doing("erase")
    if not row.is_test or not row.address or row.state != Handoff.State.DONE:
        raise refuse("not_a_test", "handoff", "Only a test can be taken away.", "")
    if operation is None:
        raise refuse(
            "cannot", "service", f"{service.name} cannot remove anybody.", "Remove it over there."
        )
    handover = Handover(service=str(service.pk), operation=operation.key)
    prepared = prepare(
        handover,
        service_facts(service),
        Person(address=row.address),
        (),
        catalogue_for(service.workspace, service_facts(service)),
    )
    if isinstance(prepared, Problem):
        raise refuse(prepared.code, "service", prepared.sentence, prepared.fix)
    with Line(service) as line:
        made = hand_over(
            line,
            handover,
            prepared,
            row.address,
            f"{service.pk}/away/{row.pk}",
            looks_first=False,
            is_test=True,
            now=clock.now(service.workspace),
        )
    if made.verdict.means != "done":
        raise refuse("not_removed", "service", made.verdict.sentence, "Remove it over there.")
    row.address, row.outcome = "", "Taken away again."
    row.save(update_fields=["address", "outcome"])
    return row.outcome


def was_there(service: Service, address: str) -> Json | None:
    """What the other side knows of somebody now, by its keys; None where it does not say."""
    described = ServiceDescription.model_validate(service.description)
    if described.find is None or not described.find_values or not address:
        return None
    with Line(service) as line:
        answer = line.ask(described.find.call, known(address=address))
    return found(described.find_values, answer.json, dict) if answer.status == 200 else None
