"""Which of the emails that are due go now, by the one decision (`deciding.py`) and the places of this hour.

What may not go is withdrawn or held, or waits for a stated time. Whatever is written here is written only
where the email still waits: somebody may have left meanwhile.
"""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from core.delivering import Held as HeldVerdict
from core.delivering import NotBefore, Now, Verdict, Withdrawn
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.copying import update_all
from server.workspaces.models import Workspace

from .claims import these_people
from .deciding import Deciding
from .life import move
from .models import Send
from .outcomes import Held, hold, hold_on
from .pace import Places

_QUEUED = {"state": [str(Send.State.QUEUED)]}


@dataclass(frozen=True)
class Going:
    """Emails that go now, with the places that they took, and what decides about each once more."""

    sends: list[Send]
    places: Places
    deciding: Deciding


@contextmanager
def may_go(workspace: Workspace, ids: Sequence[UUID]) -> Iterator[Going]:
    """Those of the emails that may go now. What another worker would have to judge too is left alone."""
    sends = list(
        Send.everywhere.filter(among("pk", ids), workspace=workspace, state=Send.State.QUEUED)
        .select_related("subscriber", "message", "list")
        .order_by("-asked_for", "queued_at", "pk")
    )
    for send in sends:
        send.workspace = send.subscriber.workspace = workspace
    deciding = Deciding(workspace, sends)
    counted = {one.subscriber_id for one in sends if deciding.keeps_gap(one)}
    with these_people(sorted(counted)) as free:
        deciding.read_last(free)
        ours = _one_each(
            [
                one
                for one in sends
                if one.subscriber_id in {*free} or one.subscriber_id not in counted
            ],
            deciding,
        )
        now = clock.now(workspace)
        decided = [(one, deciding.verdict(one, now)) for one in ours]
        carry_out(decided)
        places = Places(workspace)
        going, full = places.take([one for one, verdict in decided if isinstance(verdict, Now)])
        carry_out([(one, deciding.verdict(one, now, places.next_hour, why)) for one, why in full])
        if places.is_full:
            places.put_off_the_rest()
        yield Going(going, places, deciding)


def carry_out(decided: Sequence[tuple[Send, Verdict]]) -> None:
    """What was decided of emails that wait, but for those that go now."""
    waiting, withdrawn, stopped = [], [], []
    for send, verdict in decided:
        match verdict:
            case NotBefore():
                wait(send, verdict)
                waiting.append(send)
            case Withdrawn():
                send.reply = verdict.because
                withdrawn.append(send)
            case HeldVerdict(code="on_hold"):
                hold_on(send)
            case HeldVerdict():
                stopped.append(
                    Held(
                        send.pk,
                        verdict.code,
                        f"“{send.message.name}”: {verdict.because}.",
                        "Change the sending times or the gap between emails, then send again.",
                    )
                )
    update_all(waiting, ["not_before", "reply"], still=_QUEUED)
    move(withdrawn, "withdrawn", "worker", ["reply"])
    hold(stopped)


def take_back(send: Send, verdict: Verdict) -> None:
    """An email that was marked as handed over, and may not go by what was known the moment after: nothing
    has been said to the mail server."""
    match verdict:
        case NotBefore():
            wait(send, verdict)
            move([send], "queued", "worker", ["not_before", "reply"])
        case Withdrawn():
            send.reply = verdict.because
            move([send], "withdrawn", "worker", ["reply"])
        case _:
            # Judged again, it is held.
            move([send], "queued", "worker")


def wait(send: Send, verdict: NotBefore) -> None:
    """Note on an email until when it waits, and why."""
    send.not_before, send.reply = verdict.at, f"waits: {verdict.because}"[:500]


def _one_each(sends: Sequence[Send], deciding: Deciding) -> list[Send]:
    """Of each person to whom a gap counts, one such email: that of the highest priority, then the oldest.
    The next of theirs is judged once it went out."""
    first: dict[UUID, tuple[int, datetime, UUID]] = {}
    keys = {}
    for send in sends:
        if deciding.keeps_gap(send):
            key = (-deciding.priority(send), send.queued_at, send.pk)
            keys[send.pk] = key
            first[send.subscriber_id] = min(key, first.get(send.subscriber_id, key))
    return [one for one in sends if one.pk not in keys or first[one.subscriber_id] == keys[one.pk]]
