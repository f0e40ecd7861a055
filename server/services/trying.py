"""One handoff over HTTP: looking first where a try before may have got through, then the request."""

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

from core.deciding import Prepared
from core.services import (
    Call,
    Handover,
    Operation,
    ServiceDescription,
    Verdict,
    at,
    fill,
    fill_path,
    found,
    judge,
    text_at,
)
from server.workspaces.shapes import Json

from .calls import KEPT, Answer, Line
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
    filled = _filled(handover, prepared, address, key, is_test=is_test)
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


def can_be_batched(described: ServiceDescription, operation: Operation, handover: Handover) -> bool:
    """Whether many people can go in one request: nobody has to be looked for first."""
    if operation.batch is None:
        return False
    needs_id = any("{{ id" in text for text in _texts(operation.call))
    adds_only = operation.does == "save_person" and not handover.update
    return not ((needs_id or adds_only) and described.find)


def hand_over_many(
    line: Line,
    handover: Handover,
    many: Sequence[tuple[Prepared, str, str]],
    *,
    now: datetime,
) -> list[Try]:
    """One operation for many people (what is prepared, the address, the key) in one request; what became
    of each. All of them may be through where no answer comes."""
    described, operation = line.described, many[0][0].operation
    assert operation.batch is not None
    batch = operation.batch
    bodies = [
        fill(operation.call.body, _filled(handover, prepared, address, key, is_test=False))
        for prepared, address, key in many
    ]
    keys = hashlib.sha256("\n".join(key for _, _, key in many).encode()).hexdigest()
    common = _filled(handover, many[0][0], "", keys, is_test=False)
    answer = line.ask(batch.call, {**common, "many": bodies})
    results = found(batch.results, answer.json, list) if batch.results else []
    tries = []
    for number in range(len(many)):
        result = results[number] if number < len(results) else None
        # Of each person what is theirs is kept, and nothing of the others.
        own = replace(
            answer,
            request=f"{answer.request.partition(chr(10))[0]}\n{json.dumps(bodies[number])}"[:KEPT],
            text=json.dumps(result)[:KEPT]
            if result is not None
            else text_at(described.error, answer.json),
        )
        made = Try(answers=[("sends", own)])
        if answer.status is None:
            made.no_answer, made.may_be_through = True, answer.sent
            made.verdict = Verdict(means="again", sentence=answer.error)
        elif not 200 <= answer.status < 300 or not batch.results:
            made.verdict = _judged(answer, described, operation, now)
            made.no_answer = made.may_be_through = answer.status >= 500
        elif result is None:
            sentence = "The answer is not as described: it does not name everybody."
            made.verdict = Verdict(means="failed", sentence=sentence)
        else:
            stated = text_at(batch.status, result)
            status = int(stated) if stated.isascii() and stated.isdigit() else answer.status
            made.verdict = judge(described, operation, status, answer.headers, result, now)
        tries.append(made)
    return tries


def _filled(
    handover: Handover, prepared: Prepared, address: str, key: str, *, is_test: bool
) -> Json:
    """What the tokens of a request can name, for one person."""
    return known(
        person=dict(prepared.payload.values),
        pairs=prepared.payload.pairs,
        chosen=prepared.ids,
        address=address,
        key=key,
        test=is_test,
        options={"update": handover.update, "confirm": handover.confirm},
    )


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


def _was_there(line: Line, operation: Operation, filled: Json, made: Try) -> bool:
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
    return fill_path(described.see, known(id=their_id, address=address)) if described.see else ""
