"""Replaying submissions: what today's route would do differently about one person.

What the chosen submissions did is read from the person's trail and taken back in thought,
newest first; then each is decided again, oldest first, by today's route; what differs from
the person as they are is what the replay does. So nothing that came about otherwise, or
since, is touched, several submissions of one person are seen together, and a second replay
finds nothing to do.

Nobody is brought back: somebody who has left stays so, whatever a submission said before.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import partial
from typing import Literal

from ..deciding import (
    AddTag,
    AskToConfirm,
    ChangeAddress,
    ConsentLine,
    Decision,
    Effect,
    EnterSequence,
    Erase,
    Event,
    Handoff,
    LeaveAllLists,
    LeaveSequence,
    Owner,
    RemoveTag,
    RouteDocument,
    Score,
    Send,
    SetField,
    SetZone,
    SubmissionFacts,
    Subscribe,
    Task,
    TellMembers,
    decide,
    field_set,
)
from ..documents import Because, Frozen
from ..people import Catalogue, Person
from ..values import address_key
from .trail import Entry, Thing, Trail, rewind

Allowed = Literal["removals", "sequences", "messages", "services"]
"""What a replay may do besides adding and changing facts: take facts away; start and end
sequences; send, tell members and ask to confirm; hand people to services."""

_MOMENT = timedelta(microseconds=1)


@dataclass(frozen=True)
class Chosen:
    """A submission to replay, when it was routed, the sheet that its form was shown by, and the
    one that decided it (None: the same)."""

    facts: SubmissionFacts
    at: datetime
    shown: RouteDocument | None = None
    decided_by: RouteDocument | None = None


class Replayed(Frozen):
    """What a replay does about one person, what it leaves as it is, and what was decided."""

    effects: tuple[Effect, ...] = ()
    kept: tuple[str, ...] = ()
    """What today's route says and the replay does not do, each with its reason."""
    decisions: tuple[tuple[str, Decision], ...] = ()
    """By id of the submission."""


def mark(effect: Effect) -> str | None:
    """What an effect that is done once only is known by in the trail."""
    match effect:
        case Event(name=name):
            return f"event/{name}"
        case Task(title=title):
            return f"task/{title}"
        case TellMembers():
            return "told"
        case EnterSequence(sequence=sequence):
            return f"entered/{sequence}"
        case Handoff(line=line):
            return f"handoff/{line}"
    return None


def replay(
    person: Person | None,
    trail: Trail,
    chosen: Sequence[Chosen],
    route: RouteDocument,
    catalogue: Catalogue,
    *,
    allowed: frozenset[Allowed],
    by: str,
    others: Sequence[Chosen] = (),
) -> Replayed:
    """What today's `route` would do differently about one person by the `chosen` submissions.

    `person` is as they are now (None: the submissions never gave anybody). `by`: "replay by
    Noor on 3 May 2026", which begins each because. `others`: submissions of theirs that are not
    replayed; what one of them gives too stays, though it came about by a chosen one.
    """
    ordered = sorted(chosen, key=lambda one: (one.at, one.facts.submission_id or ""))
    ids = {one.facts.submission_id for one in ordered}
    rewound = rewind(person, trail, lambda entry: entry.submission_id in ids)
    given = _given(rewound.person, others, catalogue)
    for one_thing, at in given.items():
        if one_thing[0] == "field" and at > rewound.since.get(one_thing, at - _MOMENT):
            rewound.since[one_thing] = at
    working: Person | None = rewound.person if person else None
    kept: list[str] = []
    decided: list[tuple[str, Decision]] = []
    wanted: dict[Thing, Effect] = {}
    acts: list[Effect] = []
    for one in ordered:
        seen = _as_of(working, one.at) if working else None
        decision = decide(one.facts, route, seen, catalogue, one.at)
        decided.append((one.facts.submission_id or "", decision))
        if decision.address is None:
            continue
        if person and address_key(decision.address) != address_key(person.address):
            kept.append(f"today's route reads {decision.address} from it; it stays with them")
            continue
        working = working or Person(address=decision.address, suppressed=one.facts.suppressed)
        applied: list[Effect] = []
        for effect_before in decision.effects:
            thing = _thing(effect_before)
            if thing and thing in rewound.since and rewound.since[thing] > one.at:
                if person and _after(person, (effect_before,)) != person:
                    kept.append(f"{_name(effect_before)} was changed since, and stays")
                continue
            effect = _as_agreed(effect_before, one, route)
            if effect is None:
                kept.append(f"{_name(effect_before)}: the form they saw did not ask for it")
                continue
            if thing:
                wanted[thing] = effect
            else:
                acts.append(effect)
            applied.append(effect)
        working = _after(working, applied)
    if working is None:
        return Replayed(decisions=tuple(decided))
    now = person or Person(address=working.address)
    own = partial(_because, by=by, last=ordered[-1].facts)
    effects = [
        *_differences(now, working, wanted, catalogue, own, kept, given),
        *_score(now, trail, acts, ids, own),
        *_acts(now, trail, acts, ids, catalogue, own, kept),
    ]
    return Replayed(
        effects=tuple(_only(effects, allowed, kept)),
        kept=tuple(dict.fromkeys(kept)),
        decisions=tuple(decided),
    )


def _given(person: Person, others: Sequence[Chosen], catalogue: Catalogue) -> dict[Thing, datetime]:
    """What other submissions gave, or would have given had it not been there: when last."""
    found: dict[Thing, datetime] = {}
    for one in others:
        decided_by = one.decided_by or one.shown
        if decided_by is None:
            continue
        seen = _as_of(person, one.at)
        decision = decide(one.facts, decided_by, seen, catalogue, one.at, one.shown)
        for effect in decision.effects:
            thing = _thing(effect)
            taken = isinstance(effect, RemoveTag) or (
                isinstance(effect, Subscribe) and effect.to == "unsubscribed"
            )
            if thing and not taken:
                found[thing] = max(one.at, found.get(thing, one.at))
    return found


def take_back(
    person: Person, trail: Trail, replay_id: str, catalogue: Catalogue, by: str
) -> Replayed:
    """Undo what a replay did to a person, as far as it still stands. What was sent stays sent,
    and whoever has left stays so."""
    kept: list[str] = []

    def of_it(entry: Entry) -> bool:
        return entry.replay_id == replay_id

    rewound = rewind(person, trail, of_it)
    of_thing = {one.thing: one for one in trail.changes if of_it(one)}

    def own(effect: Effect | None, entry: Entry | None = None) -> Because:
        # Beside what it undoes, so that a later replay of the submission sees through both.
        submission = entry.submission_id if entry else None
        return Because(kind="member", sentence=by, submission_id=submission, replay_id=replay_id)

    effects: list[Effect] = []
    for effect in _differences(person, rewound.person, {}, catalogue, own, kept, {}):
        because = own(effect, of_thing.get(_thing(effect) or ("tag", "")))
        effects.append(replace(effect, because=because))
    scored = [one for one in trail.scored if of_it(one)]
    if rewound.person.score != person.score:
        because = own(None, scored[-1])
        effects.append(Score(before=person.score, after=rewound.person.score, because=because))
    for entry in trail.done:
        sequence = entry.what.removeprefix("entered/")
        if of_it(entry) and sequence in person.under_way:
            effects.append(_leave(sequence, catalogue, own(None, entry)))
    return Replayed(effects=tuple(effects), kept=tuple(dict.fromkeys(kept)))


def _as_of(person: Person, at: datetime) -> Person:
    """The person with what had happened before a moment."""
    if not person.happened:
        return person
    return replace(person, happened=tuple(one for one in person.happened if one.at < at))


def _thing(effect: Effect) -> Thing | None:
    match effect:
        case SetField(key=key):
            return ("field", key)
        case AddTag(tag=tag) | RemoveTag(tag=tag):
            return ("tag", tag)
        case Subscribe(list=one):
            return ("list", one)
    return None


def _name(effect: Effect) -> str:
    return str(getattr(effect, "label", "") or getattr(effect, "name", ""))


def _after(person: Person, effects: Iterable[Effect]) -> Person:
    """The person after effects."""
    values, tags = dict(person.values), set(person.tags)
    memberships = dict(person.memberships)
    entered, under_way = set(person.entered), set(person.under_way)
    score, owner = person.score, person.owner
    for effect in effects:
        match effect:
            case SetField(key=key, after=after):
                if after in ("", ()):
                    values.pop(key, None)
                else:
                    values[key] = after
            case AddTag(tag=tag):
                tags.add(tag)
            case RemoveTag(tag=tag):
                tags.discard(tag)
            case Subscribe(list=one, to=to):
                memberships[one] = to
            case Score(before=before, after=after_score):
                score += after_score - before
            case EnterSequence(sequence=sequence):
                entered.add(sequence)
                under_way.add(sequence)
            case LeaveSequence(sequence=sequence):
                under_way.discard(sequence)
            case Owner(member=member):
                owner = member
    return replace(
        person,
        values=values,
        tags=frozenset(tags),
        memberships=memberships,
        entered=frozenset(entered),
        under_way=frozenset(under_way),
        score=score,
        owner=owner,
    )


def _as_agreed(effect: Effect, one: Chosen, route: RouteDocument) -> Effect | None:
    """The effect with the wording that the person agreed to, as their form showed it; None for a
    subscription that their form did not ask about."""
    if not isinstance(effect, Subscribe) or effect.to == "unsubscribed":
        return effect
    line = next((line for line in route.consent if line.id == effect.because.line_id), None)
    if line is None or not one.facts.own or one.shown is None:
        # A rule, or a source whose people see no form: as when it comes in.
        return effect
    then = _line_like(one.shown, line)
    wording = then.wording.strip() if then else ""
    questions = one.shown.form.questions
    asked = next((q for q in questions if line.question and q.name == line.question), None)
    if not wording and asked is not None:
        wording = asked.label
    if not wording and line.question and not questions:
        # Somebody's own HTML form: it says more than is known here.
        wording = effect.wording
    return replace(effect, wording=wording) if wording else None


def _line_like(shown: RouteDocument, line: ConsentLine) -> ConsentLine | None:
    """The consent line of the sheet as shown that stands for this one."""
    alike = [one for one in shown.consent if one.question == line.question]
    return next((one for one in alike if one.list == line.list), alike[0] if alike else None)


def _differences(
    now: Person,
    then: Person,
    wanted: Mapping[Thing, Effect],
    catalogue: Catalogue,
    own: Callable[[Effect | None], Because],
    kept: list[str],
    given: Mapping[Thing, datetime],
) -> Iterable[Effect]:
    """Fields, tags and memberships that differ between the person now and as redone."""

    def stays(thing: Thing, name: str) -> bool:
        """Whether it is not taken away, since something else gives it too."""
        if thing in given and thing not in wanted:
            kept.append(f"{name}: another submission gives it too, and it stays")
            return True
        return False

    fields = {one.key: one for one in catalogue.fields.values()}
    for key in sorted({*now.values, *then.values} & fields.keys()):
        before, after = now.values.get(key), then.values.get(key)
        if before == after or fields[key].type == "email":
            continue
        if after in (None, "", ()) and stays(("field", key), fields[key].label):
            continue
        yield field_set(
            fields[key],
            before,
            "" if after is None else after,
            own(wanted.get(("field", key))),
        )
    for tag in sorted(then.tags - now.tags):
        effect = wanted.get(("tag", tag))
        name = effect.name if isinstance(effect, AddTag) else catalogue.tags.get(tag, "")
        if name:
            yield AddTag(tag=tag, name=name, because=own(effect))
    for tag in sorted(now.tags - then.tags):
        if tag in catalogue.tags and not stays(("tag", tag), catalogue.tags[tag]):
            because = own(wanted.get(("tag", tag)))
            yield RemoveTag(tag=tag, name=catalogue.tags[tag], because=because)
    for one in sorted({*now.memberships, *then.memberships} & catalogue.lists.keys()):
        was, to = now.membership(one), then.membership(one)
        if was == to:
            continue
        name = catalogue.lists[one]
        if was in ("unsubscribed", "bounced", "complained"):
            kept.append(f"{name}: they are {was}, and a replay brings nobody back")
            continue
        if to == "none" and stays(("list", one), name):
            continue
        if (was, to) == ("subscribed", "pending"):
            # A stricter route asks those who come; who is subscribed is not asked again.
            continue
        effect = wanted.get(("list", one))
        wording = effect.wording if isinstance(effect, Subscribe) else ""
        because = own(effect)
        yield Subscribe(list=one, name=name, before=was, to=to, wording=wording, because=because)


def _score(
    now: Person,
    trail: Trail,
    acts: Sequence[Effect],
    ids: set[str | None],
    own: Callable[[Effect | None], Because],
) -> Iterable[Effect]:
    scores = [one for one in acts if isinstance(one, Score)]
    wanted = sum(one.after - one.before for one in scores)
    had = sum(one.by for one in trail.scored if one.submission_id in ids)
    if wanted != had:
        because = own(scores[-1] if scores else None)
        yield Score(before=now.score, after=now.score + wanted - had, because=because)


def _acts(
    now: Person,
    trail: Trail,
    acts: Sequence[Effect],
    ids: set[str | None],
    catalogue: Catalogue,
    own: Callable[[Effect | None], Because],
    kept: list[str],
) -> Iterable[Effect]:
    """Sequences, messages, events, tasks: each at most once for a submission, ever."""
    starts = {one.sequence for one in acts if isinstance(one, EnterSequence)}
    done = {(one.submission_id, one.what) for one in trail.done}
    entered, under_way = set(now.entered), set(now.under_way)
    sent = set(trail.messages)
    for effect in acts:
        match effect:
            case Score():
                continue
            case ChangeAddress() | Erase():
                kept.append("this replay changes no address and erases nobody")
                continue
            case SetZone() if now.own_zone:
                continue
            case LeaveAllLists() if now.left_all_at is not None:
                continue
            case Send(message=message, name=name) if message in sent:
                kept.append(f"“{name}” was sent to them before")
                continue
            case Send(message=message):
                sent.add(message)
            case EnterSequence(sequence=sequence) if sequence in entered:
                continue
            case LeaveSequence(sequence=sequence) if sequence not in under_way:
                continue
            case LeaveSequence(sequence=sequence):
                under_way.discard(sequence)
            case AskToConfirm(list=one) if now.membership(one) != "none":
                continue
            case Owner() if now.owner is not None:
                continue
            case _ if (effect.because.submission_id, mark(effect)) in done:
                continue
            case EnterSequence(sequence=sequence):
                entered.add(sequence)
                under_way.add(sequence)
        yield replace(effect, because=own(effect))
    for entry in trail.done:
        sequence = entry.what.removeprefix("entered/")
        if entry.submission_id in ids and sequence in under_way and sequence not in starts:
            yield _leave(sequence, catalogue, own(None))


def _leave(sequence: str, catalogue: Catalogue, because: Because) -> LeaveSequence:
    known = catalogue.sequences.get(sequence)
    name = known.name if known else "a sequence that is gone"
    return LeaveSequence(sequence=sequence, name=name, because=because)


def _because(effect: Effect | None, *, by: str, last: SubmissionFacts) -> Because:
    """The cause of an effect: the rule that wants it, or that none does any more."""
    if effect is not None:
        effect_before = f"{by}: {effect.because.sentence}"
        return replace(effect.because, sentence=effect_before)
    return Because(
        kind="route",
        sentence=f"{by}: today's route does not do it",
        source_id=last.source_id,
        source_name=last.source_name,
        submission_id=last.submission_id,
        revision=last.revision,
    )


def _only(
    effects: Iterable[Effect], allowed: frozenset[Allowed], kept: list[str]
) -> Iterable[Effect]:
    """The effects that the replay may carry out."""
    for effect in effects:
        match effect:
            case EnterSequence() | LeaveSequence() if "sequences" not in allowed:
                kept.append(f"{effect.name}: this replay touches no sequence")
            case Handoff(name=name) if "services" not in allowed:
                kept.append(f"{name}: this replay hands nobody over")
            case Send() | AskToConfirm() | TellMembers() if "messages" not in allowed:
                kept.append("this replay sends no message")
            case Subscribe(to="pending", before="none") if "messages" not in allowed:
                kept.append(f"{effect.name}: this replay asks nobody to confirm")
            case _ if "removals" not in allowed and effect.change() == "removes":
                kept.append(f"{_name(effect)}: this replay takes nothing away")
            case _:
                yield effect
