"""Signing in, workspaces and their settings, and the movable clock."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from axes.handlers.proxy import AxesProxyHandler
from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.db.models import Sum
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Router, Schema
from ninja.security import django_auth
from ninja.utils import check_csrf
from pydantic import Field

from core.delivering import SendingTimes, holiday_countries
from core.values import country_names, zone_names

from . import clock
from .actions import set_up
from .auth import InPath, MemberRequest, member
from .errors import Forbidden, Refused
from .forms import Based, Versioned, saving, version_of
from .models import HistoryEntry, Member, User, Workspace
from .paging import page_by_key
from .visitors import network_address

router = Router(tags=["workspaces"])


class WorkspaceOut(Schema):
    slug: str
    name: str
    role: str


class Formats(Schema):
    """How a member writes dates, times and numbers."""

    dates: Literal["day", "month", "year"] = "day"
    """What of a date comes first."""
    clock: Literal[12, 24] = 24
    """How many hours the clock counts."""
    numbers: Literal["comma", "point", "space"] = "comma"
    """What stands between thousands."""


class SessionOut(Schema):
    """Who is signed in (nobody: no address), and the token that changes need."""

    csrf: str
    address: str | None
    name: str
    formats: Formats
    workspaces: list[WorkspaceOut]


class SignIn(Schema):
    address: str
    password: str


class SettingsIn(Schema):
    name: str
    time_zone: str
    sender_name: str
    sender_address: str
    postal_address: str
    keeps_ip: bool
    asks_zone: bool = False
    country: str = ""
    retention_days: int | None = None
    email_gap_days: int = Field(default=0, ge=0, le=60)
    """Days that lie between two marketing emails to one person at least; 0: none."""
    attention_after: int = Field(default=1, ge=1, le=100_000)
    """How often something has to go wrong with a thing until it needs attention."""
    many_in_a_day: int = Field(default=100, ge=1, le=10_000_000)
    """How many people have to enter or leave a sequence within a day for members to be told."""
    approves_broadcasts: bool = False
    """Whether a second member has to approve a broadcast before it goes."""
    sending_times: SendingTimes = SendingTimes()
    """When marketing goes out, for sequences that do not say it."""


class SettingsSave(SettingsIn, Based):
    """Settings as they are saved."""


class SettingsOut(SettingsIn, Versioned):
    slug: str
    role: str
    now: datetime
    clock_movable: bool
    clock_ahead: bool
    outside: str


class NotSignedIn(Refused):
    status = 401


class TooManyTries(Refused):
    status = 429


def _session(request: HttpRequest) -> SessionOut:
    user = request.user
    if not user.is_authenticated:
        return SessionOut(
            csrf=get_token(request), address=None, name="", formats=Formats(), workspaces=[]
        )
    rows = Member.objects.filter(user=user).select_related("workspace").order_by("workspace__name")
    return SessionOut(
        csrf=get_token(request),
        address=user.email,
        name=user.name or user.email,
        formats=Formats.model_validate({key: getattr(user, key) for key in Formats.model_fields}),
        workspaces=[
            WorkspaceOut(slug=one.workspace.slug, name=one.workspace.name, role=one.role)
            for one in rows
        ],
    )


@router.get("/session", response=SessionOut)
def session(request: HttpRequest) -> SessionOut:
    return _session(request)


@router.post("/session", response=SessionOut)
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    if check_csrf(request, sign_in) is not None:
        raise Forbidden("This page is too old to sign in with. Load it again, then sign in.")
    credentials = {"username": body.address.strip().lower()}
    if not AxesProxyHandler.is_allowed(request, credentials) or _too_many_from_here(request):
        raise TooManyTries("Too many tries. Wait 15 minutes, then sign in again.")
    user = authenticate(request, password=body.password, **credentials)
    if user is None:
        raise NotSignedIn("The address or the password is not right.")
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


def _too_many_from_here(request: HttpRequest) -> bool:
    """Whether one network address tried too many accounts; ten tries of one are counted apart."""
    tries = AccessAttempt.objects.filter(
        ip_address=network_address(request),
        attempt_time__gt=timezone.now() - settings.AXES_COOLOFF_TIME,
    )
    failures = tries.aggregate(total=Sum("failures_since_start"))["total"] or 0
    return bool(failures >= settings.FAILURES_PER_NETWORK)


@router.put("/session/formats", response=SessionOut, auth=django_auth)
def put_formats(request: HttpRequest, body: Formats) -> SessionOut:
    """Choose how dates, times and numbers are written for whoever is signed in."""
    user: User = request.user  # type: ignore[assignment]
    user.dates, user.clock, user.numbers = body.dates, body.clock, body.numbers
    user.save(update_fields=["dates", "clock", "numbers"])
    return _session(request)


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return _session(request)


class CountryOut(Schema):
    code: str
    name: str


@router.get("/countries", response=list[CountryOut])
def countries(request: HttpRequest) -> list[CountryOut]:
    return [CountryOut(code=code, name=name) for code, name in country_names().items()]


@router.get("/holiday-countries", response=list[CountryOut])
def known_holidays(request: HttpRequest) -> list[CountryOut]:
    """The countries whose public holidays are known."""
    names = country_names()
    return [
        CountryOut(code=code, name=names[code]) for code in holiday_countries() if code in names
    ]


@router.get("/time-zones", response=list[str])
def time_zones(request: HttpRequest) -> list[str]:
    return sorted(one for one in zone_names() if "/" in one or one == "UTC")


def settings_out(request: MemberRequest) -> SettingsOut:
    """The settings of the caller's workspace."""
    one = request.workspace
    held = _held(one)
    return SettingsOut(
        **dict(held),
        version=version_of(held, SettingsIn),
        slug=one.slug,
        role=request.member.role,
        now=clock.now(one),
        clock_movable=settings.CLOCK_MOVABLE,
        clock_ahead=bool(one.clock_offset),
        outside=settings.OUTSIDE_ADDRESS,
    )


def _held(one: Workspace) -> SettingsIn:
    return SettingsIn(
        name=one.name,
        time_zone=one.time_zone,
        sender_name=one.sender_name,
        sender_address=one.sender_address,
        postal_address=one.postal_address,
        keeps_ip=one.keeps_ip,
        email_gap_days=one.email_gap_days,
        attention_after=one.attention_after,
        many_in_a_day=one.many_in_a_day,
        approves_broadcasts=one.approves_broadcasts,
        sending_times=SendingTimes.model_validate(one.sending_times),
        asks_zone=one.asks_zone,
        country=one.country,
        retention_days=one.retention_days,
    )


@router.get("/workspaces/{workspace}", response=SettingsOut, auth=member)
def get_settings(request: MemberRequest, workspace: InPath) -> SettingsOut:
    return settings_out(request)


class HistoryLine(Schema):
    id: UUID
    at: datetime
    member_name: str
    sentence: str
    place: dict[str, str]


class HistoryPage(Schema):
    entries: list[HistoryLine]
    next: str | None


@router.get("/workspaces/{workspace}/history", response=HistoryPage, auth=member)
def history(
    request: MemberRequest, workspace: InPath, member_name: str = "", after: str | None = None
) -> HistoryPage:
    rows = HistoryEntry.objects.of(request.workspace)
    if member_name:
        rows = rows.filter(member_name=member_name)
    page, next_page = page_by_key(rows, "at", after)
    return HistoryPage(entries=[HistoryLine.from_orm(one) for one in page], next=next_page)


@router.put("/workspaces/{workspace}", response=SettingsOut, auth=member)
def put_settings(request: MemberRequest, workspace: InPath, body: SettingsSave) -> SettingsOut:
    values = {key: getattr(body, key) for key in SettingsIn.model_fields}
    version = lambda row: version_of(_held(row), SettingsIn)  # noqa: E731
    with saving(request.workspace, body.based_on, version) as row:
        request.workspace = set_up(row, **values)
    return settings_out(request)
