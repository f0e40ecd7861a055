"""Routing: submissions are decided by a revision of the route and carried out, in batches.

Each submission that waits has a job of its own. The first of them to run takes others of the
same source along, and their jobs with them, so that a rush costs few transactions. Rows of a
file come in batches of their own, through the same `apply_submissions`.
"""

import time
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.db.models import F, Q, QuerySet

from core.deciding import (
    Decision,
    RouteDocument,
    SetOwner,
    SubmissionFacts,
    decide,
    needs_history,
    submitted_address,
)
from core.documents import Because
from core.people import Catalogue
from core.values import address_key
from server.people.effects import apply_decision
from server.people.erased import erased_at
from server.people.ledger import Ledger
from server.people.locks import lock_keys, locked_people, person_key, try_keys
from server.people.models import Subscriber
from server.people.suppression import suppressed_among
from server.sequences.people import people_of
from server.snags.actions import report
from server.snags.models import Snag
from server.sources.actions import route_of_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import RouteRevision, Source
from server.submissions.arrivals import store_outcomes, take_jobs
from server.submissions.later import changed_since
from server.submissions.models import Submission
from server.submissions.receiving import everything_of, submission_facts, suspicion_of
from server.workspaces import clock
from server.workspaces.among import among, among_texts
from server.workspaces.copying import update_all
from server.workspaces.documents import draft_of, live_of
from server.workspaces.shapes import Json

from .effects import carry_on, with_tags_made

State = Submission.State
_RECENT = timedelta(minutes=10)
_TURNS, _TURN = 20, 0.05
"""How often, and after how many seconds each time, somebody's turn is waited for."""


def route_submission(submission_id: str) -> None:
    """Route a submission, and others of its source that wait. Safe to repeat.

    What was received of the same person before it, by whatever source, is routed first.
    """
    for _ in range(_TURNS):
        try:
            for elder in _elders_of(submission_id):
                _route(elder)
            return _route(submission_id)
        except OutOfTurn:
            time.sleep(_TURN)
    raise OutOfTurn


def _route(submission_id: str) -> None:
    if not Submission.everywhere.filter(pk=submission_id, state=State.RECEIVED).exists():
        return
    try:
        _route_batch(submission_id, settings.ROUTE_BATCH)
    except OutOfTurn:
        raise
    except Exception:
        # One of them cannot be routed, and the others must not wait for it.
        _route_batch(submission_id, 1)


_WAY = timedelta(seconds=1)
_LONGEST_WAY = 20.0


def make_way() -> None:
    """Bulk work waits while live submissions do, before each of its batches; yet at most some
    seconds, so that it gets on however much comes in."""
    ends = time.monotonic() + _LONGEST_WAY
    while time.monotonic() < ends:
        late = Submission.everywhere.filter(
            state=State.RECEIVED, received_at__lt=clock.workspace_now() - _WAY
        )
        if not late.exclude(source__state=Source.State.DRAFT).exists():
            return
        time.sleep(0.1)


class OutOfTurn(Exception):
    """Something received earlier of the same person is being routed by another worker."""


def _elders_of(submission_id: str) -> list[str]:
    """What was received of the same person before a submission, and waits too; the oldest first."""
    own = Submission.everywhere.filter(pk=submission_id, state=State.RECEIVED)
    row = own.values("workspace_id", "person_key", "received_at", "pk").first()
    if row is None or not row["person_key"]:
        return []
    waiting = _waiting_of(row["workspace_id"], [row["person_key"]])
    elder = waiting.filter(
        Q(received_at__lt=row["received_at"]) | Q(received_at=row["received_at"], pk__lt=row["pk"])
    )
    return [str(pk) for pk in elder.order_by("received_at", "pk").values_list("pk", flat=True)]


def _waiting_of(workspace_id: UUID, keys: Iterable[str]) -> QuerySet[Submission]:
    """What waits of these people, by whatever source."""
    rows: QuerySet[Submission] = Submission.everywhere.filter(
        among_texts("person_key", keys),
        workspace=workspace_id,
        state=State.RECEIVED,
        subscriber=None,
    )
    # A source that is not turned on routes nothing, and nobody waits for it.
    return rows.exclude(person_key="").exclude(source__state=Source.State.DRAFT)


def _route_batch(submission_id: str, most: int) -> None:
    """Route the submission and at most `most` in all, in one transaction.

    The locks of the people first, then the rows (`server/people/locks.py`).
    """
    with transaction.atomic():
        waiting = Submission.everywhere.filter(state=State.RECEIVED)
        own = waiting.filter(pk=submission_id).values(*_CLAIM).first()
        if own is None:
            return
        lock_keys(own["workspace_id"], [_lock_key(own)])
        claims = [own, *_others(own, most - 1)]
        rows = waiting.filter(among("pk", [one["pk"] for one in claims])).defer("raw")
        rows = rows.select_for_update().order_by("received_at", "pk")
        batch = _in_turn(list(rows), submission_id)
        if not batch:
            return
        source = Source.everywhere.select_related("workspace").get(pk=own["source_id"])
        revision = _revision_for(batch[0], source)
        if revision is not None:
            _route_waiting(batch, revision, source)


_CLAIM = ("pk", "workspace_id", "source_id", "person_key", "is_test", "received_at")


def _lock_key(claim: Json) -> str:
    """Of somebody known by address their own lock; else the submission's."""
    return str(claim["person_key"] or f"submission/{claim['pk']}")


def _others(own: Json, most: int) -> list[Json]:
    """The oldest others of its source whose people no other worker has in hand, now locked."""
    if most < 1 or own["is_test"]:
        return []
    waiting = Submission.everywhere.filter(
        state=State.RECEIVED, source=own["source_id"], is_test=False
    ).exclude(pk=own["pk"])
    # Far enough to find free ones beside the batches of the other workers.
    found = list(waiting.order_by("received_at").values(*_CLAIM)[: 4 * most])
    claims: list[Json] = []
    while found and len(claims) < most:
        some, found = found[:most], found[most:]
        free = try_keys(own["workspace_id"], [_lock_key(one) for one in some])
        claims += [one for one in some if _lock_key(one) in free]
    return claims[:most]


def _in_turn(rows: list[Submission], own: str) -> list[Submission]:
    """Those that nothing received earlier of the same person waits before; the caller has their
    locks. A second one of a person is left to its own job."""
    there = {str(one.pk) for one in rows}
    if own not in there:
        return []
    first: dict[str, tuple[datetime, UUID]] = {}
    keys = {one.person_key for one in rows if one.person_key}
    waiting = _waiting_of(rows[0].workspace_id, keys).filter(received_at__lte=rows[-1].received_at)
    for key, at, pk in waiting.values_list("person_key", "received_at", "pk"):
        first[key] = min(first.get(key, (at, pk)), (at, pk))
    waits = {
        one.pk
        for one in rows
        if one.person_key in first and first[one.person_key] < (one.received_at, one.pk)
    }
    if any(str(pk) == own for pk in waits):
        raise OutOfTurn
    return [one for one in rows if one.pk not in waits]


def _revision_for(submission: Submission, source: Source) -> RouteRevision | None:
    """The live revision; a test goes by what the sheet shows now, be it a draft."""
    revisions = source.revisions.all()
    draft = draft_of(revisions) if submission.is_test else None
    return draft or live_of(revisions)


def _route_waiting(batch: list[Submission], revision: RouteRevision, source: Source) -> None:
    held = _hold_suspicious(batch)
    take_jobs(one.pk for one in held)
    rest = [one for one in batch if one not in held]
    if not rest:
        return
    workspace = source.workspace
    route = route_of_revision(str(revision.pk))
    one_each = _one_for_each_address(rest, source, route, full_catalogue(workspace))
    # The sheet of now may read another address than the one shown did.
    apply_submissions(one_each, source, route, revision, clock.now(workspace))
    store_outcomes([submission for submission, _ in one_each])
    take_jobs(submission.pk for submission, _ in one_each)


def _hold_suspicious(batch: Sequence[Submission]) -> list[Submission]:
    """Hold what looks like a program's post; those that are held."""
    asked = [one for one in batch if one.signs and not one.released and not one.is_test]
    counts = _earlier_posts(asked)
    held = []
    for one in asked:
        uses, from_address = counts[one.pk]
        why = suspicion_of(
            one.signs, uses=uses, from_address=from_address, most=settings.POSTS_PER_VISITOR
        )
        if why:
            one.state, one.held_because = State.HELD, why
            held.append(one)
    update_all(held, ("state", "held_because"))
    return held


def _earlier_posts(asked: Sequence[Submission]) -> dict[object, tuple[int, int]]:
    """For each: the earlier posts of its rendering, and those from its network address lately.

    Two statements for all of them.
    """
    if not asked:
        return {}
    rows = Submission.everywhere.filter(source=asked[0].source_id)
    # ";" follows ":" in the collation of the column, so each range is all of one rendering.
    ranges = Q(pk__in=[])
    for name in {_rendering(one) for one in asked}:
        ranges |= Q(idempotency_key__gte=f"{name}:", idempotency_key__lt=f"{name};")
    renderings: dict[str, list[datetime]] = {}
    for name, at in rows.filter(ranges).values_list("idempotency_key", "received_at"):
        renderings.setdefault(name.partition(":")[0], []).append(at)
    visitors = {one.visitor for one in asked if one.visitor}
    first = min(one.received_at for one in asked) - _RECENT
    recent = rows.filter(visitor__in=visitors, received_at__gt=first, received_at__lte=_last(asked))
    # Far more than enough to hold: what comes beyond it is no less suspicious.
    most = 4 * len(asked) + 50 * settings.POSTS_PER_VISITOR
    times: dict[str, list[datetime]] = {}
    if visitors and settings.POSTS_PER_VISITOR:
        for visitor, at in recent.values_list("visitor", "received_at")[:most]:
            times.setdefault(visitor, []).append(at)
    return {
        one.pk: (
            sum(at < one.received_at for at in renderings.get(_rendering(one), ())),
            sum(
                one.received_at - _RECENT < at < one.received_at
                for at in times.get(one.visitor, ())
            ),
        )
        for one in asked
    }


def _rendering(submission: Submission) -> str:
    return submission.idempotency_key.partition(":")[0]


def _last(asked: Sequence[Submission]) -> datetime:
    return max(one.received_at for one in asked)


def apply_submissions(
    batch: Sequence[tuple[Submission, str | None]],
    source: Source,
    route: RouteDocument,
    revision: RouteRevision,
    now: datetime,
    stated_consent: str | None = None,
) -> list[Decision]:
    """Decide submissions, each with its address, and store all that follows but themselves; the
    decisions, in the order of the batch.

    In the caller's transaction; no address may be in the batch twice. What became of each is
    set on it, for the caller to save. Submissions that are new may be plain rows.
    """
    workspace = source.workspace
    people = locked_people(workspace, _addresses(batch))
    turn = _turn(route, source, len(batch))
    decided = _decide(batch, source, route, revision, people, turn, now, stated_consent)
    made = with_tags_made(workspace, [decision for _, _, decision in decided])
    ledger = Ledger()
    after: list[tuple[Submission, Subscriber, Decision]] = []
    for (submission, _), (facts, known, _), decision in zip(batch, decided, made, strict=True):
        if decision.address is not None and decision.stores:
            subscriber = apply_decision(
                ledger,
                workspace,
                known,
                decision,
                _submitted(facts),
                submission.context,
                now,
                received=submission.received_at,
                is_test=submission.is_test,
            )
            submission.subscriber_id = subscriber.pk
            after.append((submission, subscriber, decision))
        submission.revision_id = revision.pk
        submission.decision = decision.as_json()
        submission.routed_at = now
        submission.state = State.ROUTED if decision.address else State.STUCK
        if any(one.code == "erased" for one in decision.problems):
            _forget(submission, now)
    ledger.write()
    carry_on(workspace, [(one, person, made.effects) for one, person, made in after], now)
    _open_snags(zip((one for one, _ in batch), made, strict=True), source, revision)
    return made


def foreseen(submission: Submission) -> Decision | None:
    """What would become of a submission that waits or is held, were it routed now; None where no sheet is
    on. Nothing is stored."""
    source = submission.source
    revision = _revision_for(submission, source)
    if revision is None:
        return None
    route = route_of_revision(str(revision.pk))
    catalogue = full_catalogue(source.workspace)
    address = submitted_address(route, everything_of(submission, source), catalogue)
    to = address if isinstance(address, str) else None
    key = person_key(to, submission.is_test) if to else ""
    # Without the lock of `locked_people`: nothing is stored.
    rows = Subscriber.objects.of(source.workspace).filter(address_key=key) if key else ()
    people = {one.address_key: one for one in rows}
    now = clock.now(source.workspace)
    [(_, _, made)] = _decide([(submission, to)], source, route, revision, people, 0, now, None)
    return made


def _decide(
    batch: Sequence[tuple[Submission, str | None]],
    source: Source,
    route: RouteDocument,
    revision: RouteRevision,
    people: Mapping[str, Subscriber],
    turn: int,
    now: datetime,
    stated_consent: str | None,
) -> list[tuple[SubmissionFacts, Subscriber | None, Decision]]:
    """Submissions with their addresses, decided; `people` are those of them who are here, by their keys."""
    workspace = source.workspace
    catalogue = full_catalogue(workspace)
    persons = people_of(people.values(), workspace, history=needs_history(route))
    suppressed = suppressed_among(workspace, [address for _, address in batch if address])
    strangers = [one for one, test in _addresses(batch) if person_key(one, test) not in people]
    erased = erased_at(workspace, strangers) if strangers else {}
    owners = {one.pk: people.get(person_key(to, one.is_test)) for one, to in batch if to}
    since = changed_since([(one, owners.get(one.pk)) for one, _ in batch])
    shown = _shown(batch, revision)
    decided: list[tuple[SubmissionFacts, Subscriber | None, Decision]] = []
    for number, (submission, address) in enumerate(batch):
        known = owners.get(submission.pk)
        sheet, shown_number = shown.get(submission.shown_id, (None, None))
        facts = submission_facts(
            submission,
            source,
            revision.number,
            stated_consent,
            turn=turn + number,
            suppressed=known is None and address in suppressed,
            erased_at=erased.get(address or ""),
            shown_revision=shown_number,
            changed_since=since.get(submission.pk, frozenset()),
        )
        person = persons[known.pk] if known else None
        decided.append((facts, known, decide(facts, route, person, catalogue, now, sheet)))
    return decided


def _shown(
    batch: Sequence[tuple[Submission, str | None]], revision: RouteRevision
) -> dict[UUID | None, tuple[RouteDocument, int | None]]:
    """The sheets that visitors were shown, where those are others than the one that decides."""
    ids = {one.shown_id for one, _ in batch} - {None, revision.pk}
    rows = RouteRevision.everywhere.filter(pk__in=ids).values_list("pk", "number") if ids else ()
    return {pk: (route_of_revision(str(pk)), number) for pk, number in rows}


def _open_snags(
    decided: Iterable[tuple[Submission, Decision]], source: Source, revision: RouteRevision
) -> None:
    """A snag for each cause, in one order, so that two workers never wait for each other."""
    by_cause: dict[tuple[str, str], list[tuple[Submission, Decision]]] = {}
    for submission, decision in decided:
        submission.snag_id = None
        if decision.problems and submission.forgotten_at is None:
            cause = (decision.problems[0].code, decision.problems[0].place)
            by_cause.setdefault(cause, []).append((submission, decision))
    for _, those in sorted(by_cause.items()):
        snag = _snag(*those[0], source, revision, len(those))
        for submission, _ in those:
            submission.snag_id = snag.pk


def _addresses(batch: Sequence[tuple[Submission, str | None]]) -> list[tuple[str, bool]]:
    return [(address, one.is_test) for one, address in batch if address]


def _forget(submission: Submission, now: datetime) -> None:
    """Keep nothing of somebody who asked to be erased, and whom a source names again."""
    for name, empty in Submission.EMPTIED.items():
        setattr(submission, name, empty)
    submission.state, submission.forgotten_at = State.ROUTED, now
    if isinstance(submission, Submission) and not submission._state.adding:
        submission.save(update_fields=[*Submission.EMPTIED, "forgotten_at"])


def _turn(route: RouteDocument, source: Source, count: int) -> int:
    """Whose turn it is, where members take turns; `count` turns are taken. Else it does not matter."""
    actions = [one.action for one in route.then if one.on and isinstance(one.action, SetOwner)]
    if not any(one.how == "in_turn" for one in actions):
        return 0
    # Held to the end of the transaction: two batches never take the same turns.
    row = Source.everywhere.select_for_update(no_key=True).get(pk=source.pk)
    Source.everywhere.filter(pk=source.pk).update(turns=F("turns") + count)
    return int(row.turns)


def _one_for_each_address(
    submissions: Sequence[Submission], source: Source, route: RouteDocument, catalogue: Catalogue
) -> list[tuple[Submission, str | None]]:
    """The submissions with their addresses; a second one of an address is left to its own job."""
    found: list[tuple[Submission, str | None]] = []
    seen: set[str] = set()
    for submission in submissions:
        address = submitted_address(route, everything_of(submission, source), catalogue)
        if not isinstance(address, str):
            found.append((submission, None))
        elif address_key(address) not in seen:
            seen.add(address_key(address))
            found.append((submission, address))
    return found


def _snag(
    submission: Submission,
    decision: Decision,
    source: Source,
    revision: RouteRevision,
    times: int,
) -> Snag:
    problem = decision.problems[0]
    lost = "nobody was stored" if decision.address is None else "the rest was kept"
    return report(
        source.workspace,
        Snag.About.SUBMISSION,
        f"{source.pk}/{problem.code}/{problem.place}",
        f"{source.name}: {problem.sentence} ({lost})",
        problem.fix,
        {
            "source": str(source.pk),
            "submission": str(submission.pk),
            "line": problem.place,
            "revision": revision.number,
        },
        times,
    )


def _submitted(facts: SubmissionFacts) -> Because:
    return Because(
        kind="route",
        sentence="",
        source_id=facts.source_id,
        source_name=facts.source_name,
        submission_id=facts.submission_id,
        revision=facts.revision,
        band="arrives",
    )
