"""What became of emails: by message and link, and by receiving domain and day."""

from collections.abc import Sequence
from datetime import date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db.models import Count, Q
from django.db.models.functions import TruncDate
from ninja import Schema

from core.documents import Finding
from core.messages import LEAST_TO_WARN, delivery_warnings
from server.workspaces import clock
from server.workspaces.among import among
from server.workspaces.models import Workspace

from .models import Message, Send, Touch

State = Send.State


LATELY = timedelta(days=30)


class EmailFigures(Schema):
    """Of `sent` emails; each person counts once for each email."""

    sent: int = 0
    delivered: int = 0
    """Sent and not come back, as far as is known."""
    opened: int = 0
    """An estimate: some mail programs load pictures by themselves, and many load none."""
    clicked: int = 0
    left: int = 0
    bounced: int = 0
    hard: int = 0
    """Of those that came back, the ones that will never arrive."""
    complained: int = 0


_FIGURES = {
    "sent": Count("pk"),
    "delivered": Count("pk", filter=~Q(came_back__in=["hard", "soft"])),
    "opened": Count("opened_at"),
    "clicked": Count("clicked_at"),
    "left": Count("left_at"),
    "bounced": Count("pk", filter=Q(came_back__in=["hard", "soft"])),
    "hard": Count("pk", filter=Q(came_back="hard")),
    "complained": Count("pk", filter=Q(came_back="complaint")),
}


class CountedFigures(EmailFigures):
    """The same with the denominators of what is counted only where a member wants it."""

    counted_opens: int = 0
    """Of how many emails opens were counted, and clicks below."""
    counted_clicks: int = 0


_COUNTED_FIGURES = {
    **_FIGURES,
    "counted_opens": Count("pk", filter=Q(counts_opens=True)),
    "counted_clicks": Count("pk", filter=Q(links__gt=0)),
}


class LatelyFigures(CountedFigures):
    """Figures of the emails that went out lately (`LATELY`)."""

    waiting: int = 0
    """How many wait or are held now."""


def lately(workspace: Workspace, messages: Sequence[UUID]) -> dict[UUID, LatelyFigures]:
    """By message. By the indexes of what was sent since and of what is open, never over all that was ever
    sent."""
    since = clock.now(workspace) - LATELY
    sent = Send.everywhere.filter(
        real_sends(workspace), among("message", messages), sent_at__gte=since
    )
    is_open = [one for one in State if one not in (State.SENT, State.WITHDRAWN)]
    open_now = Send.objects.of(workspace).filter(state__in=is_open)
    waiting = dict(open_now.values_list("message").annotate(Count("pk")).order_by())
    rows = sent.values("message").annotate(**_COUNTED_FIGURES).order_by()
    found = {one.pop("message"): one for one in rows}
    return {
        one: LatelyFigures(**found.get(one, {}), waiting=waiting.get(one, 0)) for one in messages
    }


class LinkFigures(Schema):
    """A link of a message, by where it leads as it was written."""

    link: str
    people: int
    clicks: int
    programs: int
    """Times that programs followed it; they count nowhere else."""


class MessageFigures(CountedFigures):
    """Figures of a message, of its real emails alone."""

    programs: int
    """Emails that only programs touched."""
    links: list[LinkFigures]


def real_sends(workspace: Workspace) -> "Q":
    """Of people, not of tests."""
    return Q(workspace=workspace, state=State.SENT, subscriber__is_test=False)


def figures_of_message(message: Message) -> MessageFigures:
    """What became of the emails of a message."""
    sends = Send.everywhere.filter(real_sends(message.workspace), message=message)
    found = sends.aggregate(**_COUNTED_FIGURES)
    touches = Touch.objects.of(message.workspace).filter(send__in=sends)
    links = (
        touches.filter(kind=Touch.Kind.CLICK)
        .values("link")
        .annotate(
            people=Count("send__subscriber", distinct=True, filter=Q(by="person")),
            clicks=Count("pk", filter=Q(by="person")),
            programs=Count("pk", filter=Q(by="machine")),
        )
        .order_by("-people", "link")
    )
    programs = sends.filter(opened_at=None, clicked_at=None, touches__by="machine").distinct()
    return MessageFigures(
        **found, programs=programs.count(), links=[LinkFigures(**one) for one in links[:100]]
    )


def figures_by_step(workspace: Workspace, sequence: UUID) -> dict[str, EmailFigures]:
    """What became of the emails of each step of a sequence."""
    rows = (
        Send.everywhere.filter(real_sends(workspace), sequence=sequence)
        .values("step")
        .annotate(**_FIGURES)
        .order_by()
    )
    return {one.pop("step"): EmailFigures(**one) for one in rows}


class DomainFigures(EmailFigures):
    """A receiving domain; empty: all together."""

    domain: str = ""
    deferred: int = 0
    """Waiting now, after the mail server said to try again or a limit was reached."""
    refused: int = 0
    reasons: list[str] = []
    """The most frequent answers of its servers."""


class DayFigures(EmailFigures):
    day: date


class DeliveryFigures(Schema):
    """How delivery went since a moment."""

    since: datetime
    total: DomainFigures
    domains: list[DomainFigures]
    days: list[DayFigures]
    warnings: list[Finding]


def delivery_of(workspace: Workspace, days: int) -> DeliveryFigures:
    """By receiving domain and by day, in the last `days` days."""
    since = clock.now(workspace) - timedelta(days=days)
    sent = Send.everywhere.filter(real_sends(workspace), sent_at__gte=since)
    zone = ZoneInfo(workspace.time_zone)
    by_day = sent.annotate(day=TruncDate("sent_at", tzinfo=zone)).values("day")
    others = Send.objects.of(workspace).filter(handed_at__gte=since, subscriber__is_test=False)
    more = {
        one["domain"]: one
        for one in others.values("domain")
        .annotate(
            deferred=Count("pk", filter=Q(state=State.QUEUED)),
            refused=Count("pk", filter=Q(state=State.REFUSED)),
        )
        .order_by()
    }
    domains = [
        DomainFigures(
            **one,
            deferred=more.get(one["domain"], {}).get("deferred", 0),
            refused=more.get(one["domain"], {}).get("refused", 0),
        )
        for one in sent.values("domain").annotate(**_FIGURES).order_by("-sent", "domain")[:50]
    ]
    known = {one.domain for one in domains}
    domains += [
        DomainFigures(domain=name, deferred=one["deferred"], refused=one["refused"])
        for name, one in more.items()
        if name not in known and (one["deferred"] or one["refused"])
    ]
    for one in domains:
        if one.bounced or one.refused:
            one.reasons = _reasons(workspace, one.domain, since)
    total = DomainFigures(
        **sent.aggregate(**_FIGURES),
        deferred=sum(one["deferred"] for one in more.values()),
        refused=sum(one["refused"] for one in more.values()),
    )
    return DeliveryFigures(
        since=since,
        total=total,
        domains=domains,
        days=[DayFigures(**one) for one in by_day.annotate(**_FIGURES).order_by("day")],
        warnings=_warnings(total, domains),
    )


def _reasons(workspace: Workspace, domain: str, since: datetime) -> list[str]:
    rows = (
        Send.objects.of(workspace)
        .filter(domain=domain, handed_at__gte=since)
        .filter(Q(state=State.REFUSED) | Q(came_back__in=["hard", "soft"]))
        .values_list("reply")
        .annotate(n=Count("pk"))
        .order_by("-n")
    )
    return [f"{reply} ({count})" for reply, count in rows[:3] if reply]


def _warnings(total: DomainFigures, domains: list[DomainFigures]) -> list[Finding]:
    found = list(delivery_warnings("", total.sent, total.hard + total.refused, total.complained))
    for one in domains:
        if one.sent >= LEAST_TO_WARN:
            bounced = one.hard + one.refused
            found += delivery_warnings(one.domain, one.sent, bounced, one.complained)
    return found
