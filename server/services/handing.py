"""Handing over what is due to one service: in sets, several requests at a time, one person's in order."""

import hashlib
import re
import time
from collections.abc import Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

import structlog
from django.db import connection, transaction

from core.deciding import Prepared, may_go_now, not_allowed, prepare
from core.documents import Problem
from core.people import Catalogue, Person
from core.services import (
    HARMLESS_TWICE,
    MOST_TRIES,
    Handover,
    ServiceDescription,
    ServiceFacts,
    SignedSignIn,
    Verdict,
    wait_before,
)
from server.people.facts import fields_of, person_of
from server.people.locks import retried
from server.people.models import MailingList
from server.people.suppression import suppressed_among
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import store_all, update_all
from server.workspaces.models import Workspace

from .calls import Answer, Line
from .claims import ENOUGH_FAILURES, SET, at_work, claim, give_back
from .facts import service_facts
from .models import Attempt, Handoff, Plan, Service
from .tokens import forget_token
from .trying import Try, can_be_batched, hand_over, hand_over_many

log = structlog.get_logger("yalla.services")
AT_ONCE = 8
"""Requests to one service at the same time, by one worker."""
TURN = 20.0
"""Seconds after which a worker looks after other services: a slow one keeps nobody waiting."""
_FIRST_SET = 16
_QUICK = 2.0
_FIRST_REST = timedelta(seconds=30)
_LONGEST_REST = timedelta(minutes=10)
_OUTCOME = (
    "state", "tries", "due_at", "done_at", "their_id", "outcome", "fault", "looks_first", "worker",
    "address", "answers",
)  # fmt: skip


def hand_over_due(service_id: UUID | str) -> int:
    """Hand over what is due, until nothing more may go now; how many went."""
    went, most, ends = 0, _FIRST_SET, time.monotonic() + TURN
    with at_work() as worker:
        line: Line | None = None
        with ExitStack() as open_line:
            # After its turn another service has one; `find_due` comes back to what is left.
            while time.monotonic() < ends:
                claimed = claim(service_id, worker, most)
                if claimed is None or not claimed[1]:
                    break
                service, ids = claimed
                line = line or open_line.enter_context(Line(service, AT_ONCE))
                began = time.monotonic()
                went += _hand_over_set(service, line, ids)
                took = time.monotonic() - began
                most = min(most * 2, SET) if took < _QUICK else max(most // 2, AT_ONCE)
    return went


@dataclass(frozen=True)
class Going:
    """A handoff that may go, with what it takes along."""

    row: Handoff
    handover: Handover
    prepared: Prepared
    address: str


def _hand_over_set(service: Service, line: Line, ids: Sequence[UUID]) -> int:
    now = clock.now(service.workspace)
    asked: list[UUID] = []
    try:
        rows = list(
            Handoff.everywhere.filter(among("pk", ids))
            .select_related("subscriber")
            .prefetch_related("subscriber__memberships")
            .order_by("pk")
        )
        going = judged(service, rows, now)
        by_row = {one.row.pk for one in going}
        stopped = [row for row in rows if row.pk not in by_row]
        asked += by_row
        tries = _try_all(line, going, now)
        for one, made in zip(going, tries, strict=True):
            _settle(one, made, now)
        _note(service, going, tries, stopped, now)
    except BaseException:
        # What was asked for may have been done over there, whatever is known of it here.
        give_back([pk for pk in ids if pk not in set(asked)])
        give_back(asked, may_be_through=True)
        raise
    return len(going)


def judged(service: Service, rows: Sequence[Handoff], now: datetime) -> list[Going]:
    """Those that may go now; of the others the row says what becomes of them, and is not stored yet."""
    workspace = service.workspace
    facts = service_facts(service)
    catalogue = catalogue_for(workspace, facts)
    plans = plans_of(rows)
    addresses = [row.subscriber.address for row in rows if row.subscriber]
    suppressed = suppressed_among(workspace, addresses)
    unconfirmed = _unconfirmed(service, rows)
    line_of = ServiceDescription.model_validate(service.description)
    going = []
    for row in rows:
        handover = plans[row.plan_id]
        operation = facts.operation(handover.operation)
        about = row.subscriber
        if about is not None:
            about.workspace = workspace
        leaving = operation is not None and operation.does in ("unsubscribe", "erase")
        if about is None and not (leaving and row.address) and not row.answers:
            _stop(row, Handoff.State.NOT_ALLOWED, "The person was erased.", now)
            continue
        person = (
            person_of(about, tags=False, suppressed=about.address in suppressed)
            if about
            else Person(address=row.address)
        )
        answers = tuple((name, text) for name, text in row.answers)
        prepared = prepare(handover, facts, person, answers, catalogue)
        if isinstance(prepared, Problem):
            _fail(row, prepared, now)
            continue
        refused = not_allowed(prepared.operation, handover, facts, person, catalogue)
        if refused:
            _stop(row, Handoff.State.NOT_ALLOWED, refused[0].upper() + refused[1:] + ".", now)
        elif not may_go_now(prepared.operation, handover, facts, person):
            row.state, row.outcome = Handoff.State.CONSENT, "Waits until they confirm."
            row.worker = None
            unconfirmed.add(row.subscriber_id)
        elif row.subscriber_id in unconfirmed and not leaving:
            # One person's go in their order: what comes after would find nobody over there.
            row.state, row.outcome, row.worker = Handoff.State.CONSENT, BEHIND, None
        elif row.looks_first and not row.is_test and _cannot_be_asked(line_of, prepared):
            problem = Problem(code="may_be_through", sentence=MAY_BE_THROUGH)
            _fail(row, problem, now)
        elif prepared.waits:
            _fail(row, prepared.problems[-1], now)
        else:
            going.append(Going(row, handover, prepared, row.address or person.address))
    return going


BEHIND = "Waits behind an earlier one, until they confirm."
MAY_BE_THROUGH = (
    "It may have been handed over already: the connection ended before it was noted, and the service cannot "
    "be asked."
)


def _unconfirmed(service: Service, rows: Sequence[Handoff]) -> set[UUID | None]:
    """Of whom something earlier waits for their confirmation."""
    if not rows:
        return set()
    waiting = Handoff.everywhere.filter(
        among("subscriber", {row.subscriber_id for row in rows if row.subscriber_id}),
        service=service,
        state=Handoff.State.CONSENT,
        pk__lt=max(row.pk for row in rows),
    )
    return set(waiting.values_list("subscriber", flat=True))


def _cannot_be_asked(described: ServiceDescription, prepared: Prepared) -> bool:
    """Whether doing it twice would do harm, and the service neither knows its idempotency key nor can be
    asked whether it was done. What saves a person, or takes something away, twice is the same."""
    operation = prepared.operation
    # The id of a signed call (Standard Webhooks) is one too, and stays the same at each try.
    known = described.idempotency_header or isinstance(described.sign_in, SignedSignIn)
    if known or operation.look is not None:
        return False
    return operation.does not in HARMLESS_TWICE


def catalogue_for(workspace: Workspace, facts: ServiceFacts) -> Catalogue:
    """What a handoff looks at of the workspace."""
    lists = MailingList.objects.of(workspace).values_list("pk", "name")
    country = Workspace.objects.values_list("country", flat=True).get(pk=workspace.pk)
    return Catalogue(
        fields=fields_of(workspace),
        lists={str(pk): name for pk, name in lists},
        services={facts.id: facts},
        country=country,
    )


def plans_of(rows: Sequence[Handoff]) -> dict[UUID, Handover]:
    """What is handed over, by the id of the plan."""
    found = Plan.everywhere.filter(among("pk", {row.plan_id for row in rows}))
    return {one.pk: Handover.model_validate(one.content) for one in found}


def _try_all(line: Line, going: Sequence[Going], now: datetime) -> list[Try]:
    """Each handed over; those whose sign-in had run out once more, with another one."""
    tries = _at_once(line, going, now)
    again = [n for n, one in enumerate(tries) if one.verdict.means == "sign_in"]
    if again and line.secrets.get("access_token"):
        forget_token(line.service, line.secrets)
        for n, one in zip(again, _at_once(line, [going[n] for n in again], now), strict=True):
            one.answers[:0] = tries[n].answers
            tries[n] = one
    return tries


def _at_once(line: Line, going: Sequence[Going], now: datetime) -> list[Try]:
    asked = _requests(line, going)
    if len(asked) < 2:
        made = [_ask(line, now, [going[n] for n in part]) for part in asked]
    else:
        made = list(
            line.pool.map(lambda part: _in_thread(line, now, [going[n] for n in part]), asked)
        )
    tries: dict[int, Try] = {}
    for part, some in zip(asked, made, strict=True):
        tries.update(zip(part, some, strict=True))
    return [tries[n] for n in range(len(going))]


def _requests(line: Line, going: Sequence[Going]) -> list[list[int]]:
    """Which go in one request: those of one operation alike, where the service takes many at once, and
    each of the others by itself."""
    alone: list[list[int]] = []
    batches: dict[tuple[UUID, str], list[int]] = {}
    for number, one in enumerate(going):
        operation = one.prepared.operation
        batched = can_be_batched(line.described, operation, one.handover)
        if not batched or one.row.looks_first or one.row.is_test:
            alone.append([number])
            continue
        batches.setdefault((one.row.plan_id, str(one.prepared.chosen)), []).append(number)
    parts = []
    for numbers in batches.values():
        batch = going[numbers[0]].prepared.operation.batch
        most = batch.most if batch else 1
        parts += [numbers[first : first + most] for first in range(0, len(numbers), most)]
    return [*parts, *alone]


def _ask(line: Line, now: datetime, going: Sequence[Going]) -> list[Try]:
    """One request, for one person or for many."""
    if len(going) == 1:
        return [_try(line, now, going[0])]
    many = [(one.prepared, one.address, _key(one.row)) for one in going]
    return hand_over_many(line, going[0].handover, many, now=now)


def _key(row: Handoff) -> str:
    return f"{row.service_id}/{row.origin}"


def _in_thread(line: Line, now: datetime, going: Sequence[Going]) -> list[Try]:
    try:
        return _ask(line, now, going)
    finally:
        # Renewing a token may have opened one.
        connection.close()


def _try(line: Line, now: datetime, going: Going) -> Try:
    row = going.row
    try:
        return hand_over(
            line,
            going.handover,
            going.prepared,
            going.address,
            _key(row),
            looks_first=row.looks_first,
            is_test=row.is_test,
            now=now,
        )
    except Exception:
        # One handoff that cannot be made stops nobody else's.
        log.exception("handoff failed", handoff=str(row.pk))
        broken = Verdict(means="failed", sentence="The request could not be made.")
        return Try(verdict=broken)


@retried
def _note(
    service: Service,
    going: Sequence[Going],
    tries: Sequence[Try],
    stopped: Sequence[Handoff],
    now: datetime,
) -> None:
    """Store what became of a set, in one transaction; once more where PostgreSQL ended it for another's
    sake."""
    rows = [*(one.row for one in going), *stopped]
    with transaction.atomic():
        there = _let_go_of_erased(rows, now)
        attempts = [
            _attempt(one.row, what, answer, now)
            for one, made in zip(going, tries, strict=True)
            for what, answer in made.answers
            if one.row.pk in there
        ]
        update_all(rows, _OUTCOME, still={"state": [str(Handoff.State.SENDING)]})
        store_all(attempts)
        # Last, so that it is locked for a moment only: whoever claims needs it too.
        locked = Service.everywhere.select_for_update(of=("self",), no_key=True)
        fresh = locked.select_related("workspace").filter(pk=service.pk).first()
        if fresh is not None:
            _judge_service(fresh, tries, now)
            _report(fresh, rows)


def _let_go_of_erased(rows: Sequence[Handoff], now: datetime) -> set[UUID]:
    """Of whoever was erased while they were on their way nothing is written back. The rows are locked by
    this: erasing that comes now finds what is stored. Those that are there still: a service that is
    disconnected takes its handoffs with it."""
    ids = [row.pk for row in rows]
    locked = Handoff.everywhere.filter(among("pk", ids)).select_for_update(no_key=True)
    whose = dict(locked.order_by("pk").values_list("pk", "subscriber"))
    for row in rows:
        if row.subscriber_id is None or whose.get(row.pk) is not None:
            continue
        row.subscriber_id = None
        row.answers, row.their_id, row.outcome = [], "", ""
        if row.state != Handoff.State.DONE and not row.address:
            _stop(row, Handoff.State.NOT_ALLOWED, "The person was erased.", now)
    return set(whose)


def _attempt(row: Handoff, what: str, answer: Answer, now: datetime) -> Attempt:
    """One try as it is kept; of who is erased, or not known here, neither what went nor what came."""
    known = row.subscriber_id is not None
    return Attempt(
        workspace_id=row.workspace_id,
        handoff=row,
        at=now,
        what=what,
        request=answer.request if known else answer.request.partition(" ")[0],
        status=answer.status,
        answer=(answer.text if known else "") or answer.error,
        seconds=round(answer.seconds, 3),
    )


def _settle(one: Going, made: Try, now: datetime) -> None:
    """What a try means for its handoff."""
    row, verdict = one.row, made.verdict
    row.worker = None
    row.their_id = (verdict.their_id or row.their_id)[:200]
    without = " ".join(problem.sentence for problem in one.prepared.problems)
    match verdict.means:
        case "done":
            outcome = " ".join(filter(None, (verdict.sentence, without)))
            _stop(row, Handoff.State.DONE, outcome, now)
        case "not_possible":
            _stop(row, Handoff.State.NOT_POSSIBLE, verdict.sentence, now)
        case "sign_in":
            # Waits until the connection is right again; that is not this handoff's fault.
            row.state, row.outcome = Handoff.State.WAITING, verdict.sentence[:300]
        case "again" if row.tries + 1 < MOST_TRIES:
            row.tries += 1
            row.state, row.outcome = Handoff.State.WAITING, verdict.sentence[:300]
            row.looks_first = row.looks_first or made.may_be_through
            row.due_at = now + wait_before(row.tries, verdict.after)
        case _:
            row.tries += 1
            row.looks_first = row.looks_first or made.may_be_through
            problem = Problem(
                code="refused", sentence=verdict.sentence or "The service refuses it."
            )
            values = one.prepared.payload.values.values()
            _fail(row, problem, now, [one.address, *map(str, values)])


def _stop(row: Handoff, state: str, outcome: str, now: datetime) -> None:
    """It is over: what was kept for it alone is emptied."""
    row.state, row.outcome, row.done_at, row.fault, row.worker = state, outcome[:300], now, "", None
    if row.subscriber_id is None:
        row.address, row.answers = "", []


def _fail(row: Handoff, problem: Problem, now: datetime, personal: Sequence[str] = ()) -> None:
    """It failed by a cause that others may have in common: the line of the map, or what the service says
    once everything `personal` is left out."""
    row.state, row.outcome, row.worker = Handoff.State.FAILED, problem.sentence[:300], None
    row.done_at = now
    row.about_cause = about_nobody(problem.sentence, personal)[:300]
    named = problem.place or hashlib.sha256(row.about_cause.encode()).hexdigest()[:16]
    row.fault = f"{problem.code}/{named}"[:120]


def about_nobody(sentence: str, personal: Sequence[str]) -> str:
    """A sentence without what is somebody's own, and without anything that it quotes."""
    for one in sorted((text for text in personal if len(text) > 2), key=len, reverse=True):
        sentence = re.sub(re.escape(one), "…", sentence, flags=re.IGNORECASE)
    return re.sub("“[^”]*”", "“…”", sentence)


def _judge_service(service: Service, tries: Sequence[Try], now: datetime) -> None:
    """The state of the connection after a set: the circuit, the sign-in, when it last worked."""
    fields: list[str] = []
    refused = [one for one in tries if one.verdict.means == "sign_in"]
    silent = [one for one in tries if one.no_answer]
    spoke = len(tries) - len(silent) - len(refused)
    if any(one.verdict.means == "done" for one in tries):
        service.handed_at = now
        fields.append("handed_at")
    if refused and not spoke:
        service.state, service.trouble = (
            Service.State.NEEDS_LOOK,
            refused[-1].verdict.sentence[:300],
        )
        fields += ["state", "trouble"]
        _say_trouble(
            service, "sign_in", f"{service.name} refuses the sign-in.", "Give it a key again."
        )
    elif spoke:
        if service.failures or service.open_until:
            service.failures, service.open_until, service.trouble = 0, None, ""
            fields += ["failures", "open_until", "trouble"]
            Snag.objects.of(service.workspace).filter(
                closed_at=None, cause=f"service/{service.pk}/down"
            ).update(closed_at=now)
    elif silent:
        service.failures += len(silent)
        fields.append("failures")
        if service.failures >= ENOUGH_FAILURES:
            opened = service.failures // ENOUGH_FAILURES
            rest = min(_FIRST_REST * int(2 ** min(opened - 1, 8)), _LONGEST_REST)
            service.open_until = now + rest
            service.trouble = silent[-1].verdict.sentence[:300]
            fields += ["open_until", "trouble"]
            _say_trouble(
                service,
                "down",
                f"{service.name} does not answer: {silent[-1].verdict.sentence}",
                "Nothing is lost: it is tried again by itself. Look whether it is up.",
            )
        elif service.open_until:
            service.open_until = now + _FIRST_REST
            fields.append("open_until")
    if fields:
        service.save(update_fields=[*dict.fromkeys(fields)])


def _say_trouble(service: Service, what: str, sentence: str, fix: str) -> None:
    cause = f"service/{service.pk}/{what}"
    report(
        service.workspace, Snag.About.SERVICE, cause, sentence, fix, {"service": str(service.pk)}
    )


def _report(service: Service, rows: Sequence[Handoff]) -> None:
    """A snag for each cause of failing, with how many it touches, in one order."""
    by_fault: dict[str, list[Handoff]] = {}
    for row in rows:
        if row.state == Handoff.State.FAILED:
            by_fault.setdefault(row.fault, []).append(row)
    for fault, failed in sorted(by_fault.items()):
        report(
            service.workspace,
            Snag.About.SERVICE,
            f"handoff/{service.pk}/{fault}",
            f"{service.name}: {failed[0].about_cause}",
            "Fix the cause, then hand over again.",
            {"service": str(service.pk), "fault": fault},
            len(failed),
        )
