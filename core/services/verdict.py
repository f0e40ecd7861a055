"""What an answer means for a handoff, and when to try again."""

import random
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from email.utils import parsedate_to_datetime
from typing import Any, Literal

from ..documents import value
from .answers import at, text_at
from .description import Operation, ServiceDescription

Means = Literal["done", "not_possible", "failed", "again", "sign_in"]

_AGAIN = (408, 425, 429, 500, 502, 503, 504)
"""Of RFC 9110 and 6585: what may well go otherwise in a while."""
FIRST_WAIT = timedelta(seconds=20)
LONGEST_WAIT = timedelta(hours=1)
MOST_TRIES = 12
"""With the waits doubled from 20 s to an hour: some six hours of tries."""


@value
class Verdict:
    """What became of one attempt."""

    means: Means
    sentence: str = ""
    their_id: str = ""
    after: timedelta | None = None
    """How long the service asks to wait."""


def judge(
    described: ServiceDescription,
    operation: Operation | None,
    status: int,
    headers: Mapping[str, str],
    answer: Any,
    now: datetime,
) -> Verdict:
    """What an answer means. `headers` by names in lower case; `answer`: its JSON, None where it is none."""
    sentence = error_sentence(described, headers, answer)
    for one in operation.outcomes if operation else ():
        if one.status in (None, status) and (not one.where or at(one.where, answer)):
            sentence = one.sentence or sentence
            their_id = text_at(operation.id, answer) if operation else ""
            return Verdict(
                means=one.means,
                sentence=sentence,
                their_id=their_id,
                after=retry_after(headers.get("retry-after", ""), now),
            )
    if 200 <= status < 300:
        if operation and operation.id and status != 204:
            their_id = text_at(operation.id, answer)
            if not their_id:
                return Verdict(
                    means="failed",
                    sentence="The answer is not as described: it names no id.",
                )
            return Verdict(means="done", their_id=their_id)
        return Verdict(means="done")
    sentence = f"{status}: {sentence}" if sentence else f"The service answers {status}."
    if status == 401:
        return Verdict(means="sign_in", sentence=sentence)
    if status in _AGAIN:
        return Verdict(
            means="again", sentence=sentence, after=retry_after(headers.get("retry-after", ""), now)
        )
    return Verdict(means="failed", sentence=sentence)


def error_sentence(described: ServiceDescription, headers: Mapping[str, str], answer: Any) -> str:
    """What an answer says is wrong: where the description says, or as problem details (RFC 9457)."""
    sentence = text_at(described.error, answer)
    if not sentence and headers.get("content-type", "").startswith("application/problem+json"):
        sentence = text_at("detail", answer) or text_at("title", answer)
    return sentence


def retry_after(sentence: str, now: datetime) -> timedelta | None:
    """How long to wait, by RFC 9110 10.2.3: seconds, or a moment; at most a day."""
    text = sentence.strip()
    if not text:
        return None
    if text.isascii() and text.isdigit():
        return min(timedelta(seconds=min(int(text[:9]), 86_400)), timedelta(days=1))
    try:
        moment = parsedate_to_datetime(text)
    except (ValueError, TypeError):
        return None
    if moment.tzinfo is None:
        moment = moment.replace(tzinfo=UTC)
    return min(max(moment - now, timedelta()), timedelta(days=1))


def wait_before(
    tries: int, asked: timedelta | None = None, chance: float | None = None
) -> timedelta:
    """How long to wait after so many tries: doubled each time, spread by `chance` (0 to 1) over the
    upper half of the wait, so that those who failed together do not come back together; never less
    than the service asked for."""
    spread = random.random() if chance is None else chance
    whole = min(FIRST_WAIT * int(2 ** min(max(tries - 1, 0), 12)), LONGEST_WAIT)
    wait = whole / 2 + whole / 2 * spread
    return max(wait, asked) if asked else wait
