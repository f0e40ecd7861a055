"""One handoff over HTTP: looking first where a try before may have got through, then the request."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from core.deciding import Prepared
from core.services import (
    Call,
    Handover,
    Operation,
    ServiceDescription,
    Verdict,
    at,
    fill_text,
    judge,
    text_at,
)

from .calls import Answer, Line
from .facts import known


@dataclass
class Try:
    """What was asked, and what came back, in its order."""

    answers: list[tuple[str, Answer]] = field(default_factory=list)
    verdict: Verdict = field(default_factory=lambda: Verdict(means="again"))
    no_answer: bool = False
    """Whether the service did not answer, or could not: the circuit counts these."""
    may_be_through: bool = False
    """Whether the request may have been carried out all the same."""


def hand_over(
    line: Line,
    handover: Handover,
    prepared: Prepared,
    address: str,
    key: str,
    *,
    looks_first: bool,
    is_test: bool,
    now: datetime,
) -> Try:
    """Do one operation for one person. `key` is its idempotency key."""
    described, operation = line.described, prepared.operation
    made = Try()
    filled: dict[str, Any] = known(
        person=dict(prepared.payload.values),
        pairs=prepared.payload.pairs,
        chosen=prepared.ids,
        address=address,
        key=key,
        test=is_test,
        options={"update": handover.update, "confirm": handover.confirm},
    )
    if (
        looks_first
        and not described.idempotency_header
        and _was_there(line, operation, filled, made)
    ):
        return made
    if made.no_answer:
        return made
    needs_id = any("{{ id" in text for text in _texts(operation.call))
    adds_only = operation.does == "save_person" and not handover.update
    if (needs_id or adds_only) and described.find:
        answer = line.ask(described.find.call, filled)
        made.answers.append(("looks", answer))
        if not _answered(answer, described, made, now):
            return made
        there = _there(answer, described.find.there)
        filled["id"] = text_at(described.find.id, answer.json)
        if there and adds_only:
            sentence = "Is there already, and stays as they are."
            made.verdict = Verdict(means="done", sentence=sentence, their_id=filled["id"])
            return made
        if needs_id and not there:
            if operation.does in ("unsubscribe", "untag", "erase"):
                made.verdict = Verdict(means="done", sentence="Nobody there has this address.")
            else:
                made.verdict = Verdict(
                    means="not_possible", sentence="Nobody there has this address yet."
                )
            return made
    answer = line.ask(operation.call, filled)
    made.answers.append(("sends", answer))
    if answer.status is None:
        made.no_answer = True
        made.may_be_through = answer.sent
        made.verdict = Verdict(means="again", sentence=answer.error)
        return made
    made.verdict = _judged(answer, described, operation, now)
    if answer.status >= 500:
        made.no_answer = made.may_be_through = True
    return made


def _judged(
    answer: Answer, described: ServiceDescription, operation: Operation | None, now: datetime
) -> Verdict:
    status = answer.status or 0
    if answer.error:
        return Verdict(means="failed", sentence=answer.error)
    return judge(described, operation, status, answer.headers, answer.json, now)


def _answered(answer: Answer, described: ServiceDescription, made: Try, now: datetime) -> bool:
    """Whether a look got an answer that says something: that somebody is not there is one."""
    if answer.status is None:
        made.no_answer = True
        made.verdict = Verdict(means="again", sentence=answer.error)
        return False
    verdict = _judged(answer, described, None, now)
    if verdict.means in ("again", "sign_in"):
        made.no_answer = answer.status >= 500
        made.verdict = verdict
        return False
    return True


def _there(answer: Answer, path: str) -> bool:
    return answer.status is not None and 200 <= answer.status < 300 and bool(at(path, answer.json))


def _was_there(line: Line, operation: Operation, filled: dict[str, Any], made: Try) -> bool:
    """Look whether the try before got through; where it did, it is done. Where the service cannot be
    asked, it is tried again only where that does no harm: what saves a person twice is the same."""
    look = operation.look
    if look is None:
        return False
    answer = line.ask(look.call, filled)
    made.answers.append(("looks", answer))
    if answer.status is None:
        made.no_answer = True
        made.verdict = Verdict(means="again", sentence=answer.error)
        return False
    if not _there(answer, look.there):
        return False
    made.verdict = Verdict(
        means="done",
        sentence="The try before had got through.",
        their_id=text_at(look.id, answer.json),
    )
    return True


def _texts(call: Call) -> list[str]:
    return [call.path, *call.query.values(), str(call.body or "")]


def seen_at(described: ServiceDescription, their_id: str, address: str) -> str:
    """Where somebody can be seen over there; empty where the description does not say."""
    return fill_text(described.see, known(id=their_id, address=address)) if described.see else ""
