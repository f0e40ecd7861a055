"""Routing: submissions that wait are decided by the live route and carried out, in batches.

Each submission has a job of its own. The first of them to run takes others of the same source
along, and their jobs with them, so that a rush costs few transactions.
"""

import hashlib
from collections.abc import Sequence
from datetime import datetime

from django.db import connection, transaction

from core.because import Because
from core.people import Catalogue
from core.routes import Decision, EnterSequence, RouteDocument, decide, submitted_address
from core.values.email import address_key
from server.people.actions import apply_decision
from server.people.facts import person_of
from server.people.ledger import Ledger
from server.people.models import Subscriber
from server.sequences.actions import enter
from server.sequences.facts import catalogue_of, entered_by
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.documents import live_of
from server.workspaces.models import Workspace

from .actions import route_of_revision, submission_facts
from .arrivals import take_jobs
from .models import RouteRevision, Submission

BATCH = 50
State = Submission.State


def route_submission(submission_id: str) -> None:
    """Route a submission, and others of its source that wait. Safe to repeat."""
    if not Submission.everywhere.filter(pk=submission_id, state=State.RECEIVED).exists():
        return
    try:
        _route_batch(submission_id, BATCH)
    except Exception:
        # One of them cannot be routed, and the others must not wait for it.
        _route_batch(submission_id, 1)


def _route_batch(submission_id: str, most: int) -> None:
    """Route the submission and at most `most` in all, in one transaction."""
    with transaction.atomic():
        waiting = Submission.everywhere.select_related("workspace", "source__workspace")
        waiting = waiting.filter(state=State.RECEIVED)
        # Waits for a worker that has it in a batch of its own, which then leaves nothing to do.
        own = waiting.select_for_update(of=("self",)).filter(pk=submission_id).first()
        live = live_of(own.source.revisions.all()) if own else None
        if own is None or live is None:
            return
        others = waiting.select_for_update(of=("self",), skip_locked=True).filter(source=own.source)
        others = others.exclude(pk=own.pk).order_by("received_at")
        _route([own, *others[: most - 1]], live, own.workspace)


def _route(submissions: Sequence[Submission], live: RouteRevision, workspace: Workspace) -> None:
    route = route_of_revision(str(live.pk))
    catalogue = catalogue_of(workspace)
    now = clock.now(workspace)
    batch = _one_for_each_address(submissions, route, catalogue)
    people = _people(workspace, [address for _, address in batch if address])
    entered = entered_by(workspace, [one.pk for one in people.values()])
    ledger = Ledger()
    entering: list[tuple[Submission, Subscriber, EnterSequence]] = []
    for submission, address in batch:
        facts = submission_facts(submission, live.number)
        known = people.get(address_key(address)) if address else None
        person = person_of(known, entered.get(known.pk, frozenset())) if known else None
        decision = decide(facts, route, person, catalogue, now)
        if decision.address is not None:
            subscriber = apply_decision(
                ledger,
                workspace,
                known,
                decision,
                _submitted(submission, live),
                submission.context,
                now,
            )
            submission.subscriber = subscriber
            entering += [
                (submission, subscriber, effect)
                for effect in decision.effects
                if isinstance(effect, EnterSequence)
            ]
        _settle(submission, decision, live, now)
    ledger.write()
    for submission, subscriber, effect in entering:
        enter(subscriber, effect, submission.answers, now)
    for submission, _ in batch:
        submission.save(
            update_fields=["subscriber", "revision", "decision", "routed_at", "state", "snag"]
        )
    take_jobs(submission.pk for submission, _ in batch)


def _settle(submission: Submission, decision: Decision, live: RouteRevision, now: datetime) -> None:
    submission.revision = live
    submission.decision = decision.model_dump(mode="json")
    submission.routed_at = now
    submission.state = State.ROUTED if decision.address else State.STUCK
    submission.snag = _snag(submission, decision, live) if decision.problems else None


def _one_for_each_address(
    submissions: Sequence[Submission], route: RouteDocument, catalogue: Catalogue
) -> list[tuple[Submission, str | None]]:
    """The submissions with their addresses; a second one of an address is left to its own job."""
    found: list[tuple[Submission, str | None]] = []
    seen: set[str] = set()
    for submission in submissions:
        answers = tuple((name, text) for name, text in submission.answers)
        address = submitted_address(route, answers, catalogue)
        if not isinstance(address, str):
            found.append((submission, None))
        elif address_key(address) not in seen:
            seen.add(address_key(address))
            found.append((submission, address))
    return found


def _people(workspace: Workspace, addresses: Sequence[str]) -> dict[str, Subscriber]:
    """The subscribers who have these addresses, by the key of the address.

    Submissions of one address, even a new one, are decided one after the other: its lock is
    held to the end of the transaction. The locks are taken in one order, so that two
    batches never wait for each other.
    """
    keys = sorted({address_key(address) for address in addresses})
    locks = sorted(_lock_number(f"{workspace.pk}/{key}") for key in keys)
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(n) FROM unnest(%s::bigint[]) AS n", [locks])
    rows = Subscriber.objects.of(workspace).filter(address_key__in=keys)
    found = {}
    for row in rows.prefetch_related("taggings", "memberships"):
        row.workspace = workspace
        found[row.address_key] = row
    return found


def _lock_number(name: str) -> int:
    return int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big", signed=True)


def _snag(submission: Submission, decision: Decision, live: RouteRevision) -> Snag:
    problem = decision.problems[0]
    lost = "nobody was stored" if decision.address is None else "the rest was kept"
    return report(
        submission.workspace,
        Snag.About.SUBMISSION,
        f"{submission.source_id}/{problem.code}/{problem.place}",
        f"{submission.source.name}: {problem.sentence} ({lost})",
        problem.fix,
        {
            "source": str(submission.source_id),
            "submission": str(submission.pk),
            "line": problem.place,
            "revision": live.number,
        },
    )


def _submitted(submission: Submission, live: RouteRevision) -> Because:
    return Because(
        kind="route",
        sentence="",
        source_id=str(submission.source_id),
        source_name=submission.source.name,
        submission_id=str(submission.pk),
        revision=live.number,
        band="arrives",
    )
