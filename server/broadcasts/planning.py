"""What a broadcast would come to if it were set off now: who gets it and when, who does not and why."""

from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db.models import Exists, OuterRef, Q
from ninja import Schema

from core.broadcasts import (
    REASONS,
    BroadcastDocument,
    Goes,
    LeftOut,
    Place,
    Version,
    Why,
    clock_in_words,
    falls_to,
    first_moment,
    within_limits,
)
from core.conditions import say
from core.delivering import MovedBy, allowed_within_hour
from core.documents import Problem
from core.messages import MessageDocument
from core.people import Catalogue
from server.mail.deciding import marketing
from server.mail.models import Message, MessageRevision, Send, live_document
from server.mail.previewing import preview_of
from server.people.api import full_name
from server.people.models import Membership, Subscriber
from server.sequences.models import Run
from server.workspaces import clock
from server.workspaces.models import Workspace

from .models import Broadcast
from .recipients import Counted, Recipients, recipients_of

_MOVED: dict[MovedBy, str] = {
    "gap": "moved by the gap between two emails",
    "quiet_date": "moved by a quiet date",
    "hours": "moved to the sending hours",
    "limit": "moved by a limit",
    "retry": "moved",
}
_FIXES: dict[Why, str] = {
    "hole": "Give it a fallback in the message.",
    "no_zone": "Use the workspace's time zone for them, in When.",
    "would_wait": "Let them get it later, in When.",
}


class GroupOut(Schema):
    """People who are left out for one reason."""

    why: Why
    about: str
    title: str
    fix: str
    people: int


class MovedOut(Schema):
    by: str
    people: int


class HourOut(Schema):
    hour: datetime
    people: int


class PlanOut(Schema):
    """What a broadcast comes to."""

    people: int
    """Everybody whom it is about."""
    gets: int
    in_trial: int
    """About how many of them get a version first."""
    left_out: list[GroupOut]
    moved: list[MovedOut]
    next_day: int
    """In whose zones the time has passed: they get it a day later."""
    another: int
    """Who get it and may get another email on the same day."""
    begins: datetime
    hours: list[HourOut]
    """How many go within each hour, by the limits that hold."""
    limited: bool
    """Whether limits make it longer."""


class PersonPlan(Schema):
    """One person, and what becomes of them."""

    id: UUID
    name: str
    address: str
    consent: str
    gets: bool
    sentence: str
    """“Gets it Thu 3 Dec 2026 at 18:00 in Europe/Lisbon”, or why not."""
    reasons: list[str]
    subject: str
    html: str
    problem: str


def plan_of(row: Broadcast, document: BroadcastDocument) -> PlanOut:
    """For everybody."""
    workspace, now = row.workspace, clock.now(row.workspace)
    start = first_moment(document.when, now, workspace.time_zone)
    recipients = recipients_of(row, document, now, start)
    counted = recipients.counted()
    left = sum(counted.left_out.values())
    hours = within_limits(counted.hours, _limit(workspace, document))
    return PlanOut(
        people=counted.gets + left,
        gets=counted.gets,
        in_trial=round(counted.gets * document.trial.share / 100) if document.is_tried else 0,
        left_out=list(groups(counted, recipients)),
        moved=[
            MovedOut(by=_MOVED[by], people=people)  # type: ignore[index]
            for by, people in counted.moved.most_common()
        ],
        next_day=counted.next_day,
        another=_another(recipients, min(counted.moments, default=start)),
        begins=min(hours, default=start),
        hours=[HourOut(hour=hour, people=people) for hour, people in sorted(hours.items())],
        limited=hours != counted.hours,
    )


def _limit(workspace: Workspace, document: BroadcastDocument) -> Callable[[datetime], int | None]:
    """The most of an hour: the broadcast's own, and the workspace's."""
    zone = ZoneInfo(workspace.time_zone)

    def limit(hour: datetime) -> int | None:
        today = hour.astimezone(zone).date()
        house = allowed_within_hour(
            workspace.hourly_emails, workspace.warms_up_from, today, each_domain=False
        )
        return min(filter(None, (document.when.per_hour, house)), default=None)

    return limit


def groups(counted: Counted, recipients: Recipients) -> Iterator[GroupOut]:
    """Those who are left out, by reason, the largest first."""
    for (why, about), people in counted.left_out.most_common():
        yield group_out(why, about, people, recipients)


def group_out(why: Why, about: str, people: int, recipients: Recipients) -> GroupOut:
    """One group, in words."""
    return GroupOut(
        why=why,
        about=about,
        title=title_of(why, about, recipients),
        fix=_FIXES.get(why, ""),
        people=people,
    )


def title_of(why: Why, about: str, recipients: Recipients) -> str:
    """What a group of people who are left out is called."""
    catalogue = recipients.catalogue
    match why:
        case "not_meant":
            parts = recipients.parts
            part = parts[int(about)] if about.isdigit() and int(about) < len(parts) else None
            return f"Does not fit: {say(part, catalogue)}" if part else REASONS[why]
        case "less" if about == "less":
            return f"Left out by you: {say(recipients.document.to.less, catalogue)}"
        case "less":
            return f"Left out by you: {catalogue.audiences.get(about, 'an audience')}"
        case "hole":
            label = _label(about, catalogue)
            return f"No {label}, and the letter has no fallback"
        case "recent":
            days = recipients.document.to.less_recent_days
            return f"Got another email in the last {'day' if days == 1 else f'{days} days'}"
        case _:
            return REASONS[why]


def _label(key: str, catalogue: Catalogue) -> str:
    return next((one.label for one in catalogue.fields.values() if one.key == key), key)


def _another(recipients: Recipients, day_of: datetime) -> int:
    """Who are on the list and get, or may get, another email on the day of a moment."""
    workspace, document = recipients.workspace, recipients.document
    zone = ZoneInfo(workspace.time_zone)
    begins = day_of.astimezone(zone).replace(hour=0, minute=0, second=0, microsecond=0)
    ends = begins + timedelta(days=1)
    theirs = marketing(workspace, planned=True).filter(subscriber=OuterRef("subscriber"))
    theirs = theirs.exclude(broadcast=recipients.broadcast)
    sends = theirs.filter(
        Q(sent_at__gte=begins, sent_at__lt=ends) | Q(not_before__gte=begins, not_before__lt=ends)
    )
    runs = Run.objects.of(workspace).filter(
        subscriber=OuterRef("subscriber"), ended_at=None, due_at__gte=begins, due_at__lt=ends
    )
    rows = Membership.objects.of(workspace).filter(list=document.to.list, state="subscribed")
    return rows.filter(Exists(sends) | Exists(runs)).count()


def person_plan(row: Broadcast, document: BroadcastDocument, person: Subscriber) -> PersonPlan:
    """For one person, with the letter as they would get it."""
    workspace, now = row.workspace, clock.now(row.workspace)
    start = first_moment(document.when, now, workspace.time_zone)
    recipients = recipients_of(row, document, now, start)
    email = Send.objects.of(workspace).filter(broadcast=row.pk, subscriber=person).first()
    place = None if email else recipients.one(person.pk)
    falls = email.version if email else falls_to(document, str(row.pk), str(person.pk))
    version = document.version(falls or row.chosen)
    subject, html, problem = _letter(workspace, _text(row, version), person)
    zone = person.time_zone or workspace.time_zone
    return PersonPlan(
        id=person.pk,
        name=full_name(person),
        address=person.address,
        consent=_consent(workspace, document, person),
        gets=isinstance(place, Goes) or (email is not None and email.state in _GETS),
        sentence=_became(email, zone) if email else _sentence(place, zone, recipients),
        reasons=list(_reasons(row, place, person, recipients)),
        subject=subject,
        html=html,
        problem=problem,
    )


def somebody(row: Broadcast, document: BroadcastDocument, after: UUID | None) -> UUID | None:
    """Somebody who gets it, by their id after another; else anybody whom it is about."""
    now = clock.now(row.workspace)
    if row.began_at is not None:
        got = Send.objects.of(row.workspace).filter(broadcast=row.pk).order_by("subscriber")
        later = got.filter(subscriber__gt=after).first() if after else None
        email = later or got.first()
        return email.subscriber_id if email else None
    start = first_moment(document.when, now, row.workspace.time_zone)
    recipients = recipients_of(row, document, now, start)
    anybody: UUID | None = None
    for number, one in enumerate(recipients.everybody(after=after)):
        if isinstance(one.place, Goes):
            return one.pk
        anybody = anybody or one.pk
        if number > 5_000:
            break
    if anybody is None and after is not None:
        return somebody(row, document, None)
    return anybody


def _text(row: Broadcast, version: Version) -> MessageDocument | None:
    """What goes out: what was set off, or what is live of the message."""
    pinned = MessageRevision.objects.of(row.workspace).filter(pk=row.texts.get(version.id)).first()
    found = Message.objects.of(row.workspace).filter(pk=version.message).first()
    if found is None:
        return None
    text = MessageDocument.model_validate(pinned.document) if pinned else live_document(found)
    return text.model_copy(update={"subject": version.subject}) if version.subject else text


def _letter(
    workspace: Workspace, text: MessageDocument | None, person: Subscriber
) -> tuple[str, str, str]:
    if text is None:
        return "", "", "No message is chosen yet."
    made = preview_of(workspace, text, person)
    if isinstance(made, Problem):
        return "", "", made.sentence
    return made.subject, made.html, ""


def _consent(workspace: Workspace, document: BroadcastDocument, person: Subscriber) -> str:
    row = (
        Membership.objects.of(workspace)
        .filter(subscriber=person, list=document.to.list)
        .select_related("list", "cause")
        .first()
    )
    if row is None:
        return "is not on the list"
    when = row.changed_at.astimezone(ZoneInfo(workspace.time_zone))
    return f"{row.state} {when:%-d %b %Y}, because of: {row.sentence}"


def _became(email: Send, zone: str) -> str:
    """What became of somebody's email."""
    at = email.sent_at or email.not_before or email.queued_at
    shown = clock_in_words(at.astimezone(ZoneInfo(zone)))
    match email.state:
        case Send.State.SENT:
            did = (
                "clicked in"
                if email.clicked_at
                else "opened (an estimate)"
                if email.opened_at
                else ""
            )
            return f"Got it {shown} in {zone}{f', and {did} it' if did else ''}"
        case Send.State.QUEUED | Send.State.HANDING_OVER:
            return f"Gets it {shown} in {zone}"
        case Send.State.WITHDRAWN:
            return f"Does not get it: {email.reply}"
        case _:
            return f"{email.get_state_display().capitalize()}: {email.reply}"


_GETS = (Send.State.SENT, Send.State.QUEUED, Send.State.HANDING_OVER)


def _sentence(place: Place | None, zone: str, recipients: Recipients) -> str:
    if isinstance(place, Goes):
        return f"Gets it {clock_in_words(place.at.astimezone(ZoneInfo(zone)))} in {zone}"
    if isinstance(place, LeftOut):
        return f"Does not get it. {title_of(place.why, place.about, recipients)}"
    return "This broadcast is not for them"


def _reasons(
    row: Broadcast, place: Place | None, person: Subscriber, recipients: Recipients
) -> Iterator[str]:
    document, zone = recipients.document, ZoneInfo(person.time_zone or row.workspace.time_zone)
    if isinstance(place, LeftOut) and place.because:
        yield place.because
    if isinstance(place, Goes):
        if document.is_tried:
            version = falls_to(document, str(row.pk), str(person.pk))
            yield (
                f"gets version {version.upper()} first, by chance"
                if version
                else "gets the better version, after the trial"
            )
        for move in place.moves:
            yield f"{move.why}: moves to {clock_in_words(move.to.astimezone(zone))}"
        if place.next_day:
            yield "that time has passed where they are, so it goes a day later"
        if not person.time_zone:
            yield "time zone not known; the workspace's is used"
    runs = Run.objects.of(row.workspace).filter(subscriber=person, ended_at=None)
    for name in runs.order_by("entered_at").values_list("sequence__name", flat=True)[:5]:
        yield f"is currently in {name}"
    last = (
        marketing(row.workspace)
        .filter(subscriber=person, sent_at__isnull=False)
        .order_by("-sent_at")
        .values_list("sent_at", flat=True)
        .first()
    )
    if last:
        yield f"last email {last.astimezone(zone):%-d %b %Y}"
