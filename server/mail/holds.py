"""Sending on hold: the mail server refuses the sender, a relay, the policy or the content, which is no
address's fault. Everything that this touches waits on one snag, and goes on once an email is taken again."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import timedelta

from django.db import transaction

from core.delivering import Stage
from core.people import domain_of
from server.snags.actions import close, report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.models import Workspace

from .life import queue_again
from .models import Send, SendingHold

ALL = "all"
_AGAIN = [timedelta(minutes=minutes) for minutes in (1, 5, 15, 30, 60)]
"""When the next email is tried; then every hour."""
_PROBES = 3
"""Emails that are tried at a time, of different receiving domains: one may be refused for its own sake."""
_MANY_DOMAINS = 3
"""So many receiving domains that refuse at once are one refusal of the sender."""


@dataclass
class Holds:
    """What is on hold in a workspace: why, by scope."""

    reasons: dict[str, str] = field(default_factory=dict)

    def why(self, send: Send) -> str:
        """Why an email may not go now; empty: nothing holds it."""
        if not self.reasons:
            return ""
        found = (self.reasons.get(scope) for scope in _scopes_of(send))
        return next((one for one in found if one), "")


def holds_of(workspace: Workspace) -> Holds:
    """What is on hold by now."""
    rows = SendingHold.objects.of(workspace).values_list("scope", "reply")
    return Holds({scope: f"sending is on hold: {reply}" for scope, reply in rows})


def _scopes_of(send: Send) -> tuple[str, str, str]:
    domain = domain_of(send.subscriber.address)
    return ALL, f"domain:{domain}", f"message:{send.message_id}"


def put_on_hold(send: Send, stage: Stage, reply: str) -> SendingHold:
    """Hold what a refusal at `stage` speaks of: MAIL all that is sent, RCPT what goes to the receiving
    domain, DATA the message. In the caller's transaction."""
    workspace, now = send.workspace, clock.now(send.workspace)
    _, domain, message = _scopes_of(send)
    scope = {"rcpt": domain, "data": message}.get(stage, ALL)
    others = SendingHold.objects.of(workspace).filter(scope__startswith="domain:")
    if scope == domain and others.exclude(scope=domain).count() + 1 >= _MANY_DOMAINS:
        scope = ALL
    row, is_new = (
        SendingHold.objects.of(workspace)
        .select_for_update()
        .get_or_create(
            scope=scope,
            defaults={
                "workspace": workspace,
                "reply": reply[:500],
                "since": now,
                "try_at": now + _AGAIN[0],
            },
        )
    )
    if is_new or row.snag is None or row.snag.closed_at is not None:
        row.snag = _snag(send, row)
        row.save(update_fields=["snag"])
    if send.probes:
        row.tries += 1
        row.try_at = now + _AGAIN[min(row.tries, len(_AGAIN) - 1)]
        row.reply = reply[:500]
        row.save(update_fields=["tries", "try_at", "reply"])
    return row


def hold_for(send: Send) -> SendingHold | None:
    """The hold that an email waits for."""
    rows = SendingHold.objects.of(send.workspace).filter(scope__in=_scopes_of(send))
    return rows.select_related("snag").order_by("since").first()


def _snag(send: Send, row: SendingHold) -> Snag:
    what: Mapping[str, str] = {
        ALL: "The mail server does not take this sender",
        f"domain:{domain_of(send.subscriber.address)}": "The mail server does not take emails to "
        + domain_of(send.subscriber.address),
    }
    named = what.get(row.scope, f"The mail server does not take “{send.message.name}”")
    return report(
        row.workspace,
        Snag.About.SEND,
        f"hold/{row.scope}"[:200],
        f"{named}: {row.reply}. Emails wait; nobody’s address is at fault.",
        "Fix the sender or the mail server. An email is tried from time to time, and all go on by "
        "themselves once it is taken; or send again now.",
        {"message": str(send.message_id), "send": str(send.pk)},
    )


def try_holds(workspace: Workspace) -> int:
    """Queue some of the emails that wait for each hold whose time has come; how many. A hold that nothing
    waits for any more is over."""
    now, count = clock.now(workspace), 0
    due = SendingHold.objects.of(workspace).filter(try_at__lte=now)
    for pk in list(due.values_list("pk", flat=True)):
        with transaction.atomic():
            row = due.select_for_update(skip_locked=True).filter(pk=pk).first()
            if row is None:
                continue
            waiting = Send.objects.of(workspace).filter(snag=row.snag_id, state=Send.State.HELD)
            sends = list(
                waiting.select_for_update(of=("self",))
                .select_related("subscriber")
                .order_by("-asked_for", "queued_at")[:200]
            )
            if not sends:
                _over(row)
                continue
            each = {domain_of(one.subscriber.address): one for one in reversed(sends)}
            probes = list(each.values())[-_PROBES:]
            row.try_at = now + _AGAIN[min(row.tries, len(_AGAIN) - 1)]
            row.save(update_fields=["try_at"])
            for one in queue_again(probes, "worker"):
                one.probes, one.snag = True, row.snag
                one.save(update_fields=["probes", "snag"])
                count += 1
    return count


def lift_holds(send: Send) -> None:
    """An email that tried was taken: what its holds stopped goes on. In the caller's transaction."""
    rows = SendingHold.objects.of(send.workspace).filter(scope__in=_scopes_of(send))
    for row in rows.select_related("snag").select_for_update(of=("self",)):
        waiting = Send.objects.of(send.workspace).filter(snag=row.snag_id, state=Send.State.HELD)
        queue_again(list(waiting.select_for_update(of=("self",)).order_by("pk")), "worker")
        _over(row)


def forget_hold(snag: Snag) -> None:
    """A member wants everything tried again that waits on this snag."""
    SendingHold.objects.of(snag.workspace).filter(snag=snag).delete()


def _over(row: SendingHold) -> None:
    if row.snag is not None:
        close(row.snag)
    row.delete()
