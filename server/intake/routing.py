"""Routing: submissions are decided by a revision of the route and carried out, in batches.

Each submission that waits has a job of its own. The first of them to run takes others of the
same source along, and their jobs with them, so that a rush costs few transactions. Rows of a
file come in batches of their own, through the same `carry_out`.
"""

import hashlib
from collections import Counter
from collections.abc import Sequence
from datetime import datetime, timedelta

from django.conf import settings
from django.db import connection, transaction
from django.db.models import Q

from core.because import Because
from core.decision import Decision
from core.people import Catalogue
from core.route_document import RouteDocument, SetOwner
from core.routes import decide, needs_history, submitted_address
from core.suspicion import suspicion
from core.values.email import address_key
from server.people.actions import apply_decision, person_key
from server.people.erased import erased_among
from server.people.ledger import Ledger
from server.people.models import Subscriber
from server.people.suppression import suppressed_among
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.documents import draft_of, live_of
from server.workspaces.models import Workspace

from .actions import route_of_revision, submission_facts
from .arrivals import settle, take_jobs
from .effects import set_going, with_tags_made
from .facts import full_catalogue, people_of
from .models import RouteRevision, Source, Submission

BATCH = 50
State = Submission.State
_RECENT = timedelta(minutes=10)


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
        waiting = waiting.filter(state=State.RECEIVED).defer("raw")
        # Waits for a worker that has it in a batch of its own, which then leaves nothing to do.
        own = waiting.select_for_update(of=("self",)).filter(pk=submission_id).first()
        revision = _revision_for(own) if own else None
        if own is None or revision is None:
            return
        others = waiting.select_for_update(of=("self",), skip_locked=True)
        others = others.filter(source=own.source, is_test=False).exclude(pk=own.pk)
        batch = [own] if own.is_test else [own, *others.order_by("received_at")[: most - 1]]
        _route_waiting(batch, revision, own.workspace)


def _revision_for(submission: Submission) -> RouteRevision | None:
    """The live revision; a test goes by what the sheet shows now, be it a draft."""
    revisions = submission.source.revisions.all()
    draft = draft_of(revisions) if submission.is_test else None
    return draft or live_of(revisions)


def _route_waiting(batch: list[Submission], revision: RouteRevision, workspace: Workspace) -> None:
    held = _hold_suspicious(batch)
    take_jobs(one.pk for one in held)
    rest = [one for one in batch if one not in held]
    if not rest:
        return
    source = rest[0].source
    source.workspace = workspace
    route = route_of_revision(str(revision.pk))
    one_each = _one_for_each_address(rest, source, route, full_catalogue(workspace))
    carry_out(one_each, source, route, revision, clock.now(workspace))
    settle([submission for submission, _ in one_each])
    take_jobs(submission.pk for submission, _ in one_each)


def _hold_suspicious(batch: Sequence[Submission]) -> list[Submission]:
    """Hold what looks like a program's post; those that are held."""
    asked = [one for one in batch if one.signs and not one.released and not one.is_test]
    counts = _earlier_posts(asked)
    held = []
    for one in asked:
        uses, from_address = counts[one.pk]
        why = suspicion(
            bait=str(one.signs.get("bait") or ""),
            seconds=one.signs.get("seconds"),
            uses=uses,
            from_address=from_address,
            most=settings.POSTS_PER_VISITOR,
        )
        if why:
            one.state, one.held_because = State.HELD, why
            one.save(update_fields=["state", "held_because"])
            held.append(one)
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
        ranges |= Q(rendering__gte=f"{name}:", rendering__lt=f"{name};")
    renderings: dict[str, list[datetime]] = {}
    for name, at in rows.filter(ranges).values_list("rendering", "received_at"):
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
    return submission.rendering.partition(":")[0]


def _last(asked: Sequence[Submission]) -> datetime:
    return max(one.received_at for one in asked)


def carry_out(
    batch: Sequence[tuple[Submission, str | None]],
    source: Source,
    route: RouteDocument,
    revision: RouteRevision,
    now: datetime,
    stated_consent: str | None = None,
) -> None:
    """Decide submissions, each with its address, and store all that follows but themselves.

    In the caller's transaction; no address may be in the batch twice. What became of each is
    set on it, for the caller to save.
    """
    workspace = source.workspace
    catalogue = full_catalogue(workspace)
    people = locked_people(workspace, _addresses(batch))
    persons = people_of(people.values(), workspace, history=needs_history(route))
    suppressed = suppressed_among(workspace, [address for _, address in batch if address])
    strangers = [one for one, test in _addresses(batch) if person_key(one, test) not in people]
    erased = erased_among(workspace, strangers) if strangers else set()
    turn = _turn(route, source)
    ledger = Ledger()
    after: list[tuple[Submission, Subscriber, Decision]] = []
    snags: Counter[tuple[str, str]] = Counter()
    first: dict[tuple[str, str], tuple[Submission, Decision]] = {}
    for number, (submission, address) in enumerate(batch):
        facts = submission_facts(submission, source, revision.number, stated_consent)
        facts = facts.model_copy(update={"turn": turn + number})
        known = people.get(person_key(address, submission.is_test)) if address else None
        person = persons[known.pk] if known else None
        if person is None:
            of_address = {"suppressed": address in suppressed, "erased": address in erased}
            facts = facts.model_copy(update=of_address)
        decision = decide(facts, route, person, catalogue, now)
        made = with_tags_made(workspace, decision.effects)
        decision = decision.model_copy(update={"effects": made})
        if decision.address is not None and decision.stores:
            subscriber = apply_decision(
                ledger,
                workspace,
                known,
                decision,
                _submitted(submission, source, revision),
                submission.context,
                now,
                is_test=submission.is_test,
            )
            submission.subscriber = subscriber
            after.append((submission, subscriber, decision))
        submission.revision = revision
        submission.decision = decision.model_dump(mode="json")
        submission.routed_at = now
        submission.state = State.ROUTED if decision.address else State.STUCK
        if any(one.code == "erased" for one in decision.problems):
            _forget(submission, now)
        elif decision.problems:
            cause = (decision.problems[0].code, decision.problems[0].place)
            snags[cause] += 1
            first.setdefault(cause, (submission, decision))
    ledger.write()
    for submission, subscriber, decision in after:
        set_going(submission, subscriber, decision.effects, now)
    opened = {
        cause: _snag(*first[cause], source, revision, times) for cause, times in snags.items()
    }
    for submission, _ in batch:
        problems = (submission.decision or {}).get("problems") or []
        submission.snag = opened[problems[0]["code"], problems[0]["place"]] if problems else None


def _addresses(batch: Sequence[tuple[Submission, str | None]]) -> list[tuple[str, bool]]:
    return [(address, one.is_test) for one, address in batch if address]


def _forget(submission: Submission, now: datetime) -> None:
    """Keep nothing of somebody who asked to be erased, and whom a source names again."""
    for name, empty in Submission.EMPTIED.items():
        setattr(submission, name, empty)
    submission.state, submission.forgotten_at = State.ROUTED, now
    if not submission._state.adding:
        submission.save(update_fields=[*Submission.EMPTIED, "forgotten_at"])


def _turn(route: RouteDocument, source: Source) -> int:
    """How many came in here before, where members take turns; else it does not matter."""
    turns = [one for one in route.then if isinstance(one.action, SetOwner)]
    if not any(one.action.how == "in_turn" for one in turns if isinstance(one.action, SetOwner)):
        return 0
    return int(Submission.everywhere.filter(source=source, state=State.ROUTED).count())


def _one_for_each_address(
    submissions: Sequence[Submission], source: Source, route: RouteDocument, catalogue: Catalogue
) -> list[tuple[Submission, str | None]]:
    """The submissions with their addresses; a second one of an address is left to its own job."""
    found: list[tuple[Submission, str | None]] = []
    seen: set[str] = set()
    for submission in submissions:
        everything = submission_facts(submission, source, None).everything
        address = submitted_address(route, everything, catalogue)
        if not isinstance(address, str):
            found.append((submission, None))
        elif address_key(address) not in seen:
            seen.add(address_key(address))
            found.append((submission, address))
    return found


def locked_people(
    workspace: Workspace, addresses: Sequence[tuple[str, bool]]
) -> dict[str, Subscriber]:
    """The subscribers who have these addresses (each with whether it is a test's), by their key.

    Submissions of one address, even a new one, are decided one after the other: its lock is
    held to the end of the transaction. The locks are taken in one order, so that two
    batches never wait for each other.
    """
    keys = sorted({person_key(address, is_test) for address, is_test in addresses})
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


def _submitted(submission: Submission, source: Source, revision: RouteRevision) -> Because:
    return Because(
        kind="route",
        sentence="",
        source_id=str(source.pk),
        source_name=source.name,
        submission_id=str(submission.pk),
        revision=revision.number,
        band="arrives",
    )
