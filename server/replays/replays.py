"""Replays: looked at first, then run and undone in batches that go on after a crash.

Look, run and undoing ask the same rules (`core.replay`); a run asks them again on the people as
they are then, under the locks that routing takes, so what was seen cannot have gone stale.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from uuid import UUID

import structlog
from django.db import transaction
from django.db.models import F, QuerySet

from core.deciding import Effect
from core.documents import Because
from core.history import Allowed, Replayed, take_back
from core.values import address_key
from server.mail.life import withdraw
from server.mail.models import Send
from server.people.effects import apply_decision, apply_effects
from server.people.erasing import unmake_person
from server.people.ledger import Ledger
from server.people.locks import locked_people
from server.people.models import Fact, Subscriber, Task
from server.routing.effects import carry_on, tag_ids, with_ids
from server.routing.routing import make_way
from server.sequences.people import people_of
from server.services.models import Handoff
from server.sources.actions import route_of_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.submissions.log import filtered_submissions
from server.submissions.models import Submission
from server.workspaces import clock
from server.workspaces.among import among_texts
from server.workspaces.copying import store_all
from server.workspaces.documents import live_of
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.queues import defer_once
from server.workspaces.retention import reports_end
from server.workspaces.shapes import Json

from .jobs import REPLAY
from .models import Replay, ReplayLine
from .redeciding import Group, Redeciding, loaded
from .trails import trails_of

log = structlog.get_logger("yalla.replays")
State = Replay.State
MOST = 100_000
LOOKED_AT_ONCE = 1000
RUN_AT_ONCE = 50
_WORKING = (State.LOOKING, State.RUNNING, State.UNDOING)


@changes("looked at a replay through “{source.name}”")
def begin_replay(
    source: Source, wanted: Json, allowed: Sequence[Allowed], member: Member | None
) -> Replay:
    """Choose submissions and look, in the background, at what today's route would do."""
    live = live_of(source.revisions.all())
    if live is None:
        raise refuse("not_live", "source", "This route is not live.", "Turn it on, then replay.")
    chosen = _chosen(source, wanted)
    count = chosen.count()
    if count == 0:
        raise refuse("nothing", "wanted", "No submission is like that.", "Widen the filter.")
    if count > MOST:
        raise refuse(
            "too_many", "wanted", f"These are {count:,} submissions.", f"Choose at most {MOST:,}."
        )
    # What was only looked at, and never run, is of no more use.
    looked = Replay.objects.of(source.workspace).filter(source=source, member=member)
    looked.filter(state__in=(State.LOOKING, State.SEEN, State.FAILED), ran_at=None).delete()
    row = Replay.everywhere.create(
        workspace=source.workspace,
        source=source,
        revision=live,
        member=member,
        member_name=(member.user.name or member.user.email)[:120] if member else "",
        wanted=_stored(wanted),
        allowed=sorted(allowed),
        submissions=count,
        created_at=clock.now(source.workspace),
    )
    _defer(row)
    return row


@changes("ran a replay through “{row.source.name}”")
def run_replay(row: Replay) -> None:
    """Carry out what was seen; also goes on with a run that was stopped or failed."""
    live = live_of(row.source.revisions.all())
    if live is None or live.pk != row.revision_id:
        raise Refused("The route was changed since you looked. Look again, then run.")
    _start(row, State.RUNNING, (State.SEEN, State.STOPPED, State.FAILED))


@changes("stopped a replay through “{row.source.name}”")
def stop_replay(row: Replay) -> None:
    """Stop after the batch that runs; what is done stays done."""
    with transaction.atomic():
        locked = Replay.everywhere.select_for_update().get(pk=row.pk)
        if locked.state not in (State.LOOKING, State.RUNNING):
            raise Refused("This replay does not run.")
        if locked.state == State.LOOKING:
            locked.delete()
            return
        locked.state = State.STOPPED
        locked.save(update_fields=["state"])
    row.refresh_from_db()


@changes("undid a replay through “{row.source.name}”")
def undo_replay(row: Replay) -> None:
    """Take back what the replay did, as far as it still stands."""
    _start(row, State.UNDOING, (State.DONE, State.STOPPED))


def _start(row: Replay, state: Replay.State, allowed: tuple[Replay.State, ...]) -> None:
    with transaction.atomic():
        locked = Replay.everywhere.select_for_update().get(pk=row.pk)
        if locked.state not in allowed:
            raise Refused("The replay is not ready for that: wait until it is done.")
        undoing = state == State.UNDOING
        if undoing or locked.ran_at is None:
            locked.next_line = 0
        if not undoing:
            locked.ran_at = locked.ran_at or clock.now(row.workspace)
        locked.state, locked.failure = state, ""
        locked.save(update_fields=["state", "next_line", "ran_at", "failure"])
        _defer(locked)
    row.refresh_from_db()


def _defer(row: Replay) -> None:
    defer_once(REPLAY, row.pk)


def _stored(wanted: Json) -> Json:
    """The filter as JSON keeps it."""
    return {
        key: [str(one) for one in value]
        if isinstance(value, list)
        else value.isoformat()
        if hasattr(value, "isoformat")
        else value
        if isinstance(value, int | str | bool)
        else str(value)
        for key, value in wanted.items()
        if value not in (None, "", [])
    }


def _chosen(source: Source, wanted: Json) -> QuerySet[Submission]:
    rows = filtered_submissions(source.workspace, {**wanted, "source": source.pk})
    return rows.filter(state__in=("routed", "stuck"), forgotten_at=None, is_test=False)


def work_on(replay_id: str) -> None:
    """Take a replay on to the end of what it is at."""
    row = (
        Replay.everywhere.select_related("workspace", "source", "revision")
        .filter(pk=replay_id)
        .first()
    )
    if row is None or row.state not in _WORKING:
        return
    row.source.workspace = row.workspace
    try:
        if row.state == State.LOOKING:
            _look(row)
        step = _run if row.state == State.RUNNING else _undo
        while row.state in (State.RUNNING, State.UNDOING) and step(row):
            pass
    except Exception as error:
        log.exception("replay failed", replay=replay_id)
        Replay.everywhere.filter(pk=row.pk, state__in=_WORKING).update(
            state=State.FAILED, failure=f"It stopped at a fault ({type(error).__name__})."
        )


def _redeciding(row: Replay) -> Redeciding:
    route = route_of_revision(str(row.revision_id))
    return Redeciding(row.source, route, row.revision.number)


def _look(row: Replay) -> None:
    """One line for each person, with what would change; after a crash it begins again."""
    row.lines.all().delete()
    again = _redeciding(row)
    groups = _groups(row, again)
    Replay.everywhere.filter(pk=row.pk).update(people=len(groups), next_line=0, counts={})
    counts: Counter[str] = Counter()
    allowed, by = frozenset(row.allowed), _by(row)
    for start in range(0, len(groups), LOOKED_AT_ONCE):
        batch = groups[start : start + LOOKED_AT_ONCE]
        lines = []
        for number, (group, found) in enumerate(
            zip(batch, again.decide(batch, allowed, by), strict=True), start + 1
        ):
            line = ReplayLine(
                workspace_id=row.workspace_id,
                replay_id=row.pk,
                number=number,
                subscriber_id=group.person,
                address=group.address,
                made=group.person is None and bool(group.address),
                submissions=list(group.submissions),
            )
            _say(line, found)
            counts.update(effect["kind"] for effect in line.effects)
            counts["changed"] += bool(line.effects)
            counts["left"] += bool(line.kept) and not line.effects
            counts["made"] += line.made and bool(line.effects)
            lines.append(line)
        with transaction.atomic():
            # It is gone when somebody has stopped it.
            there = Replay.everywhere.select_for_update().filter(pk=row.pk, state=State.LOOKING)
            if not there.exists():
                return
            store_all(lines)
            there.update(next_line=lines[-1].number, counts=dict(counts))
    Replay.everywhere.filter(pk=row.pk, state=State.LOOKING).update(state=State.SEEN)
    row.refresh_from_db()


def _groups(row: Replay, again: Redeciding) -> list[Group]:
    """The chosen submissions by person, in the order in which these first came in."""
    groups: dict[str, list[str]] = {}
    people: dict[str, UUID | None] = {}
    addresses: dict[str, str] = {}
    found: list[tuple[object, UUID, str, UUID | None, str]]
    rows = _chosen(row.source, row.wanted).order_by("received_at", "pk")
    known_ones = rows.exclude(subscriber=None).values_list(
        "pk", "received_at", "subscriber_id", "subscriber__address"
    )
    found = [(at, pk, str(person), person, address) for pk, at, person, address in known_ones]
    for one in rows.filter(subscriber=None).defer("raw", "decision", "signs"):
        address = again.address_of(one)
        key = f"address/{address_key(address)}" if address else f"none/{one.pk}"
        found.append((one.received_at, one.pk, key, None, address))
    for _, one_pk, key, person, address in sorted(found, key=lambda one: one[:2]):
        groups.setdefault(key, []).append(str(one_pk))
        people.setdefault(key, person)
        addresses.setdefault(key, address)
    known = _known(row, [addresses[key] for key, pk in people.items() if pk is None])
    for key, pk in list(people.items()):
        there = known.get(address_key(addresses[key])) if pk is None and addresses[key] else None
        if there is None:
            continue
        if str(there) in groups:
            groups[str(there)] += groups.pop(key)
            del people[key]
        else:
            people[key] = there
    return [Group(tuple(pks), people[key], addresses[key]) for key, pks in groups.items()]


def _known(row: Replay, addresses: Sequence[str]) -> dict[str, UUID]:
    """Of addresses whose submissions gave nobody, those whom somebody has by now."""
    keys = {address_key(one) for one in addresses if one}
    rows = Subscriber.objects.of(row.workspace).filter(among_texts("address_key", keys))
    return dict(rows.values_list("address_key", "pk"))


def _run(row: Replay) -> bool:
    """Carry out some lines in one transaction; whether there are more."""
    make_way()
    with transaction.atomic():
        locked = Replay.everywhere.select_for_update().get(pk=row.pk)
        if locked.state != State.RUNNING:
            return False
        lines = _next_lines(row, RUN_AT_ONCE)
        _carry_out(row, [one for one in lines if one.effects and not one.done])
        return _went_on(row, lines, State.DONE)


def _went_on(row: Replay, lines: Sequence[ReplayLine], end: Replay.State, **more: object) -> bool:
    """Keep how far it is; whether there is more to do."""
    changed = {**more}
    if not lines or lines[-1].number >= row.people:
        changed["state"] = end
    if lines:
        changed["next_line"] = lines[-1].number
    for name, value in changed.items():
        setattr(row, name, value)
    row.save(update_fields=list(changed))
    return row.state != end


def _next_lines(row: Replay, most: int) -> list[ReplayLine]:
    return list(row.lines.filter(number__gt=row.next_line).order_by("number")[:most])


def _group(line: ReplayLine) -> Group:
    return Group(tuple(line.submissions), line.subscriber_id, line.address)


def _by(row: Replay) -> str:
    """How each because begins: who replays, and when."""
    at = row.ran_at or clock.now(row.workspace)
    return f"replay by {row.member_name or 'a member'} on {at:%-d %b %Y}"


def _say(line: ReplayLine, found: Replayed) -> None:
    """Set what a line shows of what the rules say."""
    made = found.effects or any(one.address for _, one in found.decisions)
    line.effects = [{"kind": one.change(), "text": one.in_words()} for one in found.effects]
    if line.made and made:
        line.effects.insert(0, {"kind": "adds", "text": "a new person"})
    line.kept = list(found.kept)


def _carry_out(row: Replay, lines: Sequence[ReplayLine]) -> None:
    """Decide some people again under their locks, and store what that comes to."""
    if not lines:
        return
    workspace, now = row.workspace, clock.now(row.workspace)
    known = Subscriber.objects.of(workspace).filter(pk__in=[one.subscriber_id for one in lines])
    addresses = {*known.values_list("address", flat=True), *(one.address for one in lines)}
    people = locked_people(workspace, [(one, False) for one in addresses if one])
    by_id = {one.pk: one for one in people.values()}
    for line in lines:
        if line.subscriber_id is None and address_key(line.address) in people:
            line.subscriber, line.made = people[address_key(line.address)], False
    again = _redeciding(row)
    found = again.decide([_group(one) for one in lines], frozenset(row.allowed), _by(row))
    ids = [pk for one in lines for pk in one.submissions]
    submissions = {
        str(one.pk): one for one in Submission.everywhere.select_for_update().filter(pk__in=ids)
    }
    ledger = Ledger()
    going: list[tuple[Subscriber, tuple[Effect, ...]]] = []
    made = tag_ids(workspace, [effect for one in found for effect in one.effects])
    for line, one in zip(lines, found, strict=True):
        effects = with_ids([_of(row, effect) for effect in one.effects], made)
        _say(line, one.model_copy(update={"effects": effects}))
        subscriber = by_id.get(line.subscriber_id) if line.subscriber_id else None
        if subscriber is None and line.subscriber_id is None:
            subscriber = _make(row, ledger, submissions, one, effects)
            line.made = subscriber is not None
        elif subscriber is not None:
            for effect in effects:
                context = _context(submissions, effect)
                apply_effects(ledger, subscriber, (effect,), context, now)
        if subscriber is None:
            continue
        line.subscriber, line.done = subscriber, True
        _mark_routed(row, line, submissions, one, subscriber)
        going.append((subscriber, effects))
    ledger.write()
    followed = [
        (submission, subscriber, (effect,))
        for subscriber, effects in going
        for effect in effects
        if (submission := submissions.get(effect.because.submission_id or "")) is not None
    ]
    carry_on(row.workspace, followed, now)
    Submission.everywhere.bulk_update(
        submissions.values(),
        ["subscriber", "state", "decision", "revision", "routed_at", "snag"],
        batch_size=250,
    )
    ReplayLine.everywhere.bulk_update(
        lines, ["effects", "kept", "subscriber", "made", "done", "before"], batch_size=250
    )


def _of(row: Replay, effect: Effect) -> Effect:
    because = replace(effect.because, replay_id=str(row.pk))
    return replace(effect, because=because)


def _context(submissions: dict[str, Submission], effect: Effect) -> Json:
    one = submissions.get(effect.because.submission_id or "")
    return dict(one.context) if one else {}


def _make(
    row: Replay,
    ledger: Ledger,
    submissions: dict[str, Submission],
    found: Replayed,
    effects: tuple[Effect, ...],
) -> Subscriber | None:
    """Somebody whom the submissions had never given, with all that was decided."""
    first = next(((pk, one) for pk, one in found.decisions if one.address), None)
    if first is None:
        return None
    pk, decision = first
    submission = submissions[pk]
    submitted = Because(
        kind="route",
        sentence=_by(row),
        source_id=str(row.source_id),
        source_name=row.source.name,
        submission_id=pk,
        revision=row.revision.number,
        band="arrives",
        replay_id=str(row.pk),
    )
    return apply_decision(
        ledger,
        row.workspace,
        None,
        replace(decision, effects=effects),
        submitted,
        submission.context,
        clock.now(row.workspace),
    )


def _mark_routed(
    row: Replay,
    line: ReplayLine,
    submissions: dict[str, Submission],
    found: Replayed,
    subscriber: Subscriber,
) -> None:
    """A submission that was stuck is routed now; how it was is kept for an undoing."""
    for pk, decision in found.decisions:
        submission = submissions.get(pk)
        if submission is None or decision.address is None or submission.state != "stuck":
            continue
        line.before[pk] = submission.decision
        submission.subscriber, submission.snag = subscriber, None
        submission.state, submission.revision = Submission.State.ROUTED, row.revision
        submission.routed_at = clock.now(row.workspace)
        submission.decision = decision.as_json()


def _undo(row: Replay) -> bool:
    """Take some lines back in one transaction; whether there are more."""
    with transaction.atomic():
        locked = Replay.everywhere.select_for_update().get(pk=row.pk)
        if locked.state != State.UNDOING:
            return False
        lines = _next_lines(row, RUN_AT_ONCE)
        _take_back(row, [one for one in lines if one.done and one.subscriber_id])
        return _went_on(row, lines, State.UNDONE)


def _take_back(row: Replay, lines: Sequence[ReplayLine]) -> None:
    if not lines:
        return
    workspace, now = row.workspace, clock.now(row.workspace)
    mine = {"by_replay": row.pk}
    ids = [one.subscriber_id for one in lines if one.subscriber_id]
    addresses = Subscriber.objects.of(workspace).filter(pk__in=ids)
    locked_people(workspace, [(one, False) for one in addresses.values_list("address", flat=True)])
    subscribers = {one.pk: one for one in loaded(workspace, ids)}
    persons = people_of(subscribers.values(), workspace, history=False)
    trails = trails_of(workspace, subscribers)
    catalogue = full_catalogue(workspace)
    by = f"undoing of the {_by(row)}"
    ledger = Ledger()
    going: list[tuple[Subscriber, tuple[Effect, ...]]] = []
    gone: list[Subscriber] = []
    for line in lines:
        subscriber = subscribers.get(line.subscriber_id) if line.subscriber_id else None
        if subscriber is None:
            continue
        if line.made and not _touched_since(subscriber, line, row):
            gone.append(subscriber)
            continue
        trail, person = trails[subscriber.pk], persons[subscriber.pk]
        effects = take_back(person, trail, str(row.pk), catalogue, by).effects
        apply_effects(ledger, subscriber, effects, {}, now)
        going.append((subscriber, effects))
    ledger.write()
    nothing = Submission(workspace=workspace, answers=[])
    carry_on(workspace, [(nothing, subscriber, effects) for subscriber, effects in going], now)
    withdraw(
        Send.objects.of(workspace).filter(subscriber__in=ids, **mine),
        "the replay that queued it was undone",
    )
    Handoff.objects.of(workspace).filter(
        subscriber__in=ids, state__in=(Handoff.State.WAITING, Handoff.State.CONSENT), **mine
    ).update(state=Handoff.State.NOT_ALLOWED, outcome="The replay that asked for it was undone.")
    Task.objects.of(workspace).filter(subscriber__in=ids, done_at=None, **mine).delete()
    Fact.objects.of(workspace).filter(
        subscriber__in=ids, kind__in=(Fact.Kind.EVENT, Fact.Kind.TASK), **mine
    ).delete()
    _mark_as_before(row, lines, [one.pk for one in gone])
    for subscriber in gone:
        unmake_person(subscriber)
    ReplayLine.everywhere.filter(pk__in=[one.pk for one in lines]).update(done=False)


def _touched_since(subscriber: Subscriber, line: ReplayLine, row: Replay) -> bool:
    """Whether anything but the replay is known of somebody whom it made."""
    others = subscriber.facts.exclude(by_replay=row.pk)
    more = subscriber.submissions.exclude(pk__in=line.submissions)
    return bool(others.exists() or more.exists())


def _mark_as_before(row: Replay, lines: Sequence[ReplayLine], gone: Sequence[UUID]) -> None:
    """Submissions that were stuck before are so again, with what had been decided."""
    for line in lines:
        if line.subscriber_id not in gone:
            continue
        for pk, decision in line.before.items():
            Submission.objects.of(row.workspace).filter(pk=pk).update(
                state=Submission.State.STUCK, decision=decision, subscriber=None
            )


def replays_of(source: Source) -> QuerySet[Replay]:
    """The replays of a source, the newest first."""
    rows = Replay.objects.of(source.workspace).filter(source=source)
    return rows.annotate(number=F("revision__number")).order_by("-created_at")


def forget_lines(workspace: Workspace) -> int:
    """Remove lines of replays after the retention time of reports; how many."""
    lines = ReplayLine.objects.of(workspace).filter(replay__created_at__lt=reports_end(workspace))
    return int(lines.delete()[0])
