"""The rules of the Then band, carried out one after the other on a person as decided so far."""

from collections.abc import Callable
from typing import Any, Literal

from . import membership
from .conditions import holds, say
from .decision import (
    AddTag,
    AskToConfirm,
    EnterSequence,
    Event,
    LeaveAllLists,
    LeaveSequence,
    Owner,
    RemoveTag,
    Score,
    Send,
    Subscribe,
    Task,
    TellMembers,
    field_set,
)
from .documents import Problem
from .folding import folded
from .people import Happening
from .reading import ReadLine, read_into
from .route_document import (
    AddTags,
    ChangeScore,
    ChangeSubscription,
    MakeTask,
    Notify,
    PutField,
    RecordEvent,
    RemoveTags,
    Rule,
    SendNow,
    SetOwner,
    StartSequence,
    StopSequence,
    TagByAnswer,
    TagFromAnswer,
)
from .values import Choice, read_choices, read_text, read_yes_no
from .working import Working

_LONGEST_TAG = 60


def carry_rule(work: Working, rule: Rule, number: int) -> None:
    """Carry out one rule, if it is on and its condition holds."""
    if not rule.on:
        return work.say(rule.id, "switched off", acts=False)
    why = f"rule {number}: everybody from here"
    if rule.when is not None:
        said = say(rule.when, work.catalogue, work.route.form)
        if not holds(rule.when, work.person, work.circumstances, work.catalogue):
            return work.say(rule.id, f"no: not {said}", acts=False)
        why = f"rule {number}: {said}"
    _ACTIONS[rule.action.kind](work, rule.id, rule.action, number, why)


def _add_tags(work: Working, line: str, action: AddTags, number: int, why: str) -> None:
    _tag(work, line, action.tags, why)


def _tag(work: Working, line: str, tags: tuple[str, ...], why: str) -> None:
    said: list[str] = []
    acts = False
    for tag in tags:
        name = work.catalogue.tags.get(tag)
        if name is None:
            work.gone("tag", line)
            said.append("a tag that is gone")
        elif tag in work.tags:
            said.append(f"has {name} already")
        elif work.changed_since("tag", tag):
            said.append(f"{name} was changed since, and stays so")
        else:
            acts = True
            work.tags.add(tag)
            because = work.because("then", line, why)
            work.effects.append(AddTag(tag=tag, name=name, because=because))
            said.append(f"+ {name}")
    work.say(line, " · ".join(said) or "no tag chosen", acts=acts)


def _remove_tags(work: Working, line: str, action: RemoveTags, number: int, why: str) -> None:
    said: list[str] = []
    for tag in action.tags:
        name = work.catalogue.tags.get(tag)
        if name is not None and tag in work.tags and not work.changed_since("tag", tag):
            work.tags.discard(tag)
            because = work.because("then", line, why)
            work.effects.append(RemoveTag(tag=tag, name=name, because=because))
            said.append(f"− {name}")
    work.say(line, " · ".join(said) or "has none of these tags", acts=bool(said))


def _tag_by_answer(work: Working, line: str, action: TagByAnswer, number: int, why: str) -> None:
    answer = work.answer(action.question)
    if not answer.strip():
        return work.say(line, "no answer: no tag", acts=False)
    label = work.label(action.question)
    # Where the source defines no question, the table itself names the choices.
    choices = work.choices(action.question) or tuple(
        Choice(key=row.choice, label=row.choice) for row in action.table
    )
    chosen = read_choices(answer, choices)
    if isinstance(chosen, Problem):
        work.problem(line, chosen)
        return work.say(line, chosen.sentence, acts=False)
    said = ", ".join(one.label for one in choices if one.key in chosen)
    tags = tuple(tag for row in action.table if row.choice in chosen for tag in row.tags)
    if not tags:
        return work.say(line, f"{said}: no tag", acts=False)
    _tag(work, line, tags, f"rule {number}: the answer to “{label}” was {said}")


def _tag_from_answer(
    work: Working, line: str, action: TagFromAnswer, number: int, why: str
) -> None:
    """The tag need not exist: the server makes it. Its id is then its name."""
    said: list[str] = []
    by_name = {folded(name): tag for tag, name in work.catalogue.tags.items()}
    by_name |= work.made_tags
    for text in work.answer(action.question).split("\n"):
        plain = read_text(text)
        if isinstance(plain, Problem) or not plain:
            continue
        if action.only and folded(plain) not in map(folded, action.only):
            said.append(f"“{plain[:40]}” is not among those that may become tags")
            continue
        if not action.only and not action.prefix.strip():
            said.append("neither a beginning nor a set of tags is stated")
            continue
        name = f"{action.prefix}{plain}"[:_LONGEST_TAG].strip()
        tag = by_name.get(folded(name), name)
        if tag == name:
            # Two answers that differ in case alone are one tag.
            by_name[folded(name)] = work.made_tags[folded(name)] = name
        if work.changed_since("tag", tag):
            said.append(f"{name} was changed since, and stays so")
            continue
        if tag in work.tags:
            said.append(f"has {name} already")
            continue
        work.tags.add(tag)
        sentence = f"rule {number}: the answer to “{work.label(action.question)}” was {plain}"
        because = work.because("then", line, sentence)
        work.effects.append(AddTag(tag=tag, name=name, because=because))
        said.append(f"+ {name}")
    acts = any(one.startswith("+ ") for one in said)
    work.say(line, " · ".join(said) or "no answer: no tag", acts=acts)


def _put_field(work: Working, line: str, action: PutField, number: int, why: str) -> None:
    target = work.catalogue.fields.get(action.field or "")
    if target is None or target.type == "email":
        work.gone("field", line)
        return work.say(line, "the field is gone", acts=False)
    value = read_into(target, action.value, ReadLine(id=line), (), work.catalogue.country)
    if isinstance(value, Problem):
        work.problem(line, value)
        return work.say(line, value.sentence, acts=False)
    before = work.values.get(target.key)
    if work.changed_since("field", target.key):
        return work.say(line, f"{target.label} was changed since, and stays", acts=False)
    if value == before or (value in ("", ()) and before is None):
        return work.say(line, f"{target.label} is so already", acts=False)
    work.values[target.key] = value
    work.effects.append(field_set(target, before, value, work.because("then", line, why)))
    work.say(line, f"{target.label}: {target.shown(value) or 'emptied'}", acts=True)


def _change_score(work: Working, line: str, action: ChangeScore, number: int, why: str) -> None:
    before, after = work.score, work.score + action.by
    work.score = after
    because = work.because("then", line, why)
    work.effects.append(Score(before=before, after=after, because=because))
    work.say(line, f"score {before} → {after}", acts=True)


def _record_event(work: Working, line: str, action: RecordEvent, number: int, why: str) -> None:
    name = " ".join(action.name.split())
    if not name:
        return work.say(line, "the event has no name", acts=False)
    work.happened.append(Happening(what="event", about=name, at=work.now))
    work.effects.append(Event(name=name, because=work.because("then", line, why)))
    work.say(line, f"event: {name}", acts=True)


def _change_subscription(
    work: Working, line: str, action: ChangeSubscription, number: int, why: str
) -> None:
    direction = action.direction
    wording = ""
    if direction == "by_answer":
        answer = work.answer(action.question)
        if not answer.strip():
            return work.say(line, "no answer: nothing changes", acts=False)
        said = direction_of(answer, action, work.choices(action.question))
        label = work.label(action.question)
        shown = _shown_answer(work, action.question, answer)
        if said is None:
            work.problem(line, _fits_neither(label, shown))
            return work.say(line, f"“{shown}” says neither subscribe nor unsubscribe", acts=False)
        direction = said
        why = f"rule {number}: the answer to “{label}” was {shown}"
        wording = f"{work.label_shown(action.question)}: {shown}"
    if direction is None:
        return work.say(line, "neither subscribe nor unsubscribe is chosen", acts=False)
    if direction == "subscribe":
        name = work.catalogue.lists.get(action.list or "")
        if name is None or action.list is None:
            return work.say(line, "no list chosen", acts=False)
        own = work.submission.own and action.direction == "by_answer"
        return subscribe(work, line, action.list, why, wording=wording, own=own, band="then")
    if action.list is None and not (action.every_list or action.direction == "by_answer"):
        return work.say(line, "no list chosen", acts=False)
    unsubscribe(work, line, action.list, why)


def direction_of(
    answer: str, action: ChangeSubscription, choices: tuple[Choice, ...]
) -> Literal["subscribe", "unsubscribe"] | None:
    """What an answer says by the rule's words, which may be keys, labels or synonyms of the
    question's choices; None: neither. Where several are chosen, unsubscribing wins."""
    given = {folded(answer)}
    chosen = read_choices(answer, choices) if choices else ()
    if not isinstance(chosen, Problem):
        for one in choices:
            if one.key in chosen:
                given |= {folded(text) for text in (one.key, one.label, *one.synonyms)}
    if given & {folded(word) for word in action.unsubscribe_words}:
        return "unsubscribe"
    if given & {folded(word) for word in action.subscribe_words}:
        return "subscribe"
    # A box that is ticked or not comes as "on" or "no", whatever words are stated.
    ticked = read_yes_no(answer) if not choices else ""
    words = {True: action.subscribe_words, False: action.unsubscribe_words}
    if isinstance(ticked, bool):
        for direction, stated in (("unsubscribe", False), ("subscribe", True)):
            if ticked is stated and any(read_yes_no(word) is stated for word in words[stated]):
                return direction  # type: ignore[return-value]
    return None


def _shown_answer(work: Working, question: str, answer: str) -> str:
    """An answer as people read it: the labels of what was chosen."""
    choices = work.choices(question)
    chosen = read_choices(answer, choices) if choices else ()
    if isinstance(chosen, Problem) or not chosen:
        return " ".join(answer.split())[:80]
    return ", ".join(one.label for one in choices if one.key in chosen)


def _fits_neither(label: str, shown: str) -> Problem:
    return Problem(
        code="fits_neither",
        sentence=f"The answer “{shown}” to “{label}” says neither subscribe nor unsubscribe, so "
        "nothing was changed.",
        fix="Say in the rule what this answer means, then route it again.",
    )


def subscribe(
    work: Working,
    line: str,
    list_id: str,
    why: str,
    *,
    wording: str,
    own: bool,
    band: str,
    confirm: bool = False,
) -> None:
    """Subscribe to a list, as far as consent allows it.

    `own`: by an opt-in of the person's own; `confirm`: the line wants it confirmed by email.
    """
    name = work.catalogue.lists.get(list_id)
    if name is None:
        return work.say(line, "the list is gone", acts=False)
    if list_id in work.left_lists or work.left_all:
        work.problem(line, _contradiction(name))
        return work.say(line, f"another rule unsubscribes from {name}, and that wins", acts=False)
    before = work.memberships.get(list_id, "none")
    confirm_first = confirm or list_id in work.catalogue.confirmed_lists
    move = membership.subscribe(
        before,
        own_opt_in=own,
        confirm_first=confirm_first,
        suppressed=work.suppressed,
        asked_at=work.received,
        left=work.left(list_id),
    )
    if move.refused:
        return work.say(line, f"stays {before}: {move.refused}", acts=False)
    because = work.because(band, line, why)
    if move.to == "pending":
        work.effects.append(AskToConfirm(list=list_id, name=name, because=because))
    if move.to == before:
        if move.to == "pending":
            return work.say(line, f"is pending on {name}; asked again to confirm", acts=True)
        return work.say(line, f"is subscribed to {name} already", acts=False)
    work.memberships[list_id] = move.to
    change = Subscribe(
        list=list_id, name=name, before=before, to=move.to, wording=wording, because=because
    )
    work.effects.append(change)
    asked = f"pending on {name}: asked by email to confirm"
    work.say(line, asked if move.to == "pending" else f"subscribed to {name}", acts=True)


def unsubscribe(work: Working, line: str, list_id: str | None, why: str) -> None:
    """Unsubscribe from a list, or from all; of somebody who is not on it this is nothing."""
    lists = [list_id] if list_id else [*work.memberships]
    if list_id is None:
        work.left_all = True
        work.effects.append(LeaveAllLists(because=work.because("then", line, why)))
    said: list[str] = []
    for one in lists:
        name = work.catalogue.lists.get(one)
        if name is None:
            continue
        work.left_lists.add(one)
        subscribed = [
            effect
            for effect in work.effects
            if isinstance(effect, Subscribe | AskToConfirm)
            and effect.list == one
            and not (isinstance(effect, Subscribe) and effect.to == "unsubscribed")
        ]
        if subscribed:
            # Earlier in this very submission: the safer of the two wins.
            work.effects = [effect for effect in work.effects if effect not in subscribed]
            for effect in subscribed:
                if isinstance(effect, Subscribe):
                    work.memberships[one] = effect.before
            work.problem(line, _contradiction(name))
        before = work.memberships.get(one, "none")
        to = membership.unsubscribe(before).to if before != "none" else before
        if to == before:
            continue
        work.memberships[one] = to
        work.effects.append(
            Subscribe(
                list=one,
                name=name,
                before=before,
                to=to,
                wording="",
                because=work.because("then", line, why),
            )
        )
        said.append(f"unsubscribed from {name}")
    work.say(line, " · ".join(said) or "is on no such list", acts=bool(said))


def _contradiction(name: str) -> Problem:
    return Problem(
        code="contradiction",
        sentence=f"One rule subscribes to {name} and another unsubscribes from it; unsubscribing wins.",
        fix="Give the two rules conditions that do not hold together.",
    )


def _start_sequence(work: Working, line: str, action: StartSequence, number: int, why: str) -> None:
    sequence = work.catalogue.sequences.get(action.sequence or "")
    if sequence is None:
        if action.sequence:
            work.gone("sequence", line)
        return work.say(line, "no sequence to start", acts=False)
    if sequence.id in work.entered:
        return work.say(line, f"was in {sequence.name} before: once only", acts=False)
    if not sequence.live:
        return work.say(line, f"{sequence.name} is not live: nothing starts", acts=False)
    work.entered.add(sequence.id)
    work.under_way.add(sequence.id)
    work.effects.append(
        EnterSequence(
            sequence=sequence.id,
            name=sequence.name,
            lane=action.lane,
            because=work.because("then", line, why),
        )
    )
    lane = sequence.lanes.get(action.lane or "")
    said = f"starts {sequence.name}" + (f", lane {lane}" if lane else "")
    work.say(line, said, acts=True)


def _stop_sequence(work: Working, line: str, action: StopSequence, number: int, why: str) -> None:
    if not (action.sequence or action.every_sequence):
        return work.say(line, "no sequence chosen", acts=False)
    wanted = [action.sequence] if action.sequence else sorted(work.under_way)
    said: list[str] = []
    for one in wanted:
        facts = work.catalogue.sequences.get(one)
        if facts is None:
            work.gone("sequence", line)
        elif one in work.under_way:
            work.under_way.discard(one)
            because = work.because("then", line, why)
            work.effects.append(LeaveSequence(sequence=one, name=facts.name, because=because))
            said.append(f"stops {facts.name}")
    work.say(line, " · ".join(said) or "is not in that sequence", acts=bool(said))


def _notify(work: Working, line: str, action: Notify, number: int, why: str) -> None:
    wanted = list(action.members)
    if action.owner and work.owner and work.owner not in wanted:
        wanted.append(work.owner)
    told = tuple(one for one in wanted if one in work.catalogue.members)
    if len(told) < len(wanted):
        work.gone("member", line)
    if not told:
        return work.say(line, "nobody to tell", acts=False)
    names = tuple(work.catalogue.members[one] for one in told)
    because = work.because("then", line, why)
    work.effects.append(TellMembers(members=told, names=names, because=because))
    work.say(line, f"tells {', '.join(names)}", acts=True)


def _send_now(work: Working, line: str, action: SendNow, number: int, why: str) -> None:
    name = work.catalogue.messages.get(action.message or "")
    if name is None or action.message is None:
        if action.message:
            work.gone("message", line)
        return work.say(line, "no message to send", acts=False)
    because = work.because("then", line, why)
    work.effects.append(
        Send(message=action.message, name=name, list=action.list, line=line, because=because)
    )
    work.say(line, f"sends “{name}” at once", acts=True)


def _make_task(work: Working, line: str, action: MakeTask, number: int, why: str) -> None:
    title = " ".join(action.title.split())
    if not title:
        return work.say(line, "the task says nothing", acts=False)
    because = work.because("then", line, why)
    work.effects.append(Task(title=title, days=action.days, member=work.owner, because=because))
    whose = work.catalogue.members.get(work.owner or "")
    work.say(line, f"task{f' for {whose}' if whose else ''}: {title}", acts=True)


def _set_owner(work: Working, line: str, action: SetOwner, number: int, why: str) -> None:
    if work.owner in work.catalogue.members:
        name = work.catalogue.members[work.owner or ""]
        return work.say(line, f"{name} looks after them already", acts=False)
    member = _owner(work, action)
    name = work.catalogue.members.get(member or "", "")
    if not name or member is None:
        if member:
            work.gone("member", line)
        return work.say(line, "no owner by this", acts=False)
    work.owner = member
    work.effects.append(Owner(member=member, name=name, because=work.because("then", line, why)))
    work.say(line, f"{name} looks after them", acts=True)


def _owner(work: Working, action: SetOwner) -> str | None:
    if action.how == "by_answer":
        chosen = read_choices(
            work.answer(action.question),
            work.choices(action.question)
            or tuple(Choice(key=row.choice, label=row.choice) for row in action.table),
        )
        if isinstance(chosen, Problem):
            return None
        return next((row.member for row in action.table if row.choice in chosen), None)
    there = [one for one in action.members if one in work.catalogue.members]
    if not there:
        return next(iter(action.members), None)
    return there[work.submission.turn % len(there)] if action.how == "in_turn" else there[0]


_Carry = Callable[[Working, str, Any, int, str], None]
_ACTIONS: dict[str, _Carry] = {
    "add_tags": _add_tags,
    "remove_tags": _remove_tags,
    "tag_by_answer": _tag_by_answer,
    "tag_from_answer": _tag_from_answer,
    "put_field": _put_field,
    "change_score": _change_score,
    "record_event": _record_event,
    "change_subscription": _change_subscription,
    "start_sequence": _start_sequence,
    "stop_sequence": _stop_sequence,
    "notify": _notify,
    "send_now": _send_now,
    "make_task": _make_task,
    "set_owner": _set_owner,
}
