"""How a workspace's letters look and go out: house style, pictures, what is counted, sending domains,
limits, and how delivery goes."""

from datetime import date, datetime
from uuid import UUID

from django.conf import settings
from ninja import Query, Router, Schema
from pydantic import Field

from core.documents import Finding
from core.messages import DnsLine, HouseStyle, check_style, signs_well
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member
from server.workspaces.forms import Based, Versioned, saving, version_of
from server.workspaces.models import Workspace
from server.workspaces.schemas import Done

from .figures import DeliveryFigures, delivery_of
from .house import set_mail
from .models import LibraryPicture, Returned, Send, SendingDomain
from .pictures import (
    add_picture,
    address_of,
    delete_picture,
    describe_picture,
    logo_pixels,
    users_of_picture,
)
from .signing import add_domain, lines_of, look_up, remove_domain, set_signing
from .writing import style_of

router = Router(tags=["mail settings"], auth=member)
LARGEST_PICTURE = 8 * 2**20


class MailSettings(Schema):
    style: HouseStyle
    language: str
    reply_to: str
    counts_opens: bool
    counts_clicks: bool
    hourly_emails: int | None = Field(default=None, ge=1, le=10_000_000)
    hourly_per_domain: int | None = Field(default=None, ge=1, le=10_000_000)
    warms_up_from: date | None = None


class MailSettingsIn(MailSettings, Based):
    """Settings as they are saved."""


class MailSettingsOut(MailSettings, Versioned):
    findings: list[Finding]


@router.get("/mail/settings", response=MailSettingsOut)
def mail_settings(request: MemberRequest, workspace: InPath) -> MailSettingsOut:
    return _settings(request.workspace)


@router.put("/mail/settings", response=MailSettingsOut)
def put_mail_settings(
    request: MemberRequest, workspace: InPath, body: MailSettingsIn
) -> MailSettingsOut:
    values = {key: getattr(body, key) for key in MailSettings.model_fields}
    with saving(request.workspace, body.based_on, lambda row: _settings(row).version) as row:
        return _settings(set_mail(row, **values))


def _settings(row: Workspace) -> MailSettingsOut:
    style = style_of(row)
    held = MailSettings(
        style=style,
        language=row.language,
        reply_to=row.reply_to,
        counts_opens=row.counts_opens,
        counts_clicks=row.counts_clicks,
        hourly_emails=row.hourly_emails,
        hourly_per_domain=row.hourly_per_domain,
        warms_up_from=row.warms_up_from,
    )
    return MailSettingsOut(
        **dict(held),
        version=version_of(held, MailSettings),
        findings=list(check_style(style, logo_pixels(row, style))),
    )


class PictureOut(Versioned):
    id: UUID
    name: str
    alt: str
    address: str
    width: int
    height: int
    size: int
    """Bytes of both sizes."""
    used: str
    """What has it; empty: nothing, so that it can be deleted."""


class PictureIn(Based):
    name: str
    alt: str


class NewPicture(Schema):
    name: str = "picture"


@router.get("/mail/pictures", response=list[PictureOut])
def pictures(request: MemberRequest, workspace: InPath) -> list[PictureOut]:
    rows = LibraryPicture.objects.of(request.workspace).defer("content", "sharp")
    return [_picture(one) for one in rows.select_related("workspace").order_by("-added_at", "-pk")]


@router.post("/mail/pictures", response=PictureOut)
def post_picture(request: MemberRequest, workspace: InPath, how: Query[NewPicture]) -> PictureOut:
    """Add a picture: its content is the body of the request."""
    content = request.read(LARGEST_PICTURE + 1)
    return _picture(add_picture(request.workspace, how.name, content, request.member))


@router.put("/mail/pictures/{picture}", response=PictureOut)
def put_picture(
    request: MemberRequest, workspace: InPath, picture: UUID, body: PictureIn
) -> PictureOut:
    found = find(LibraryPicture, request, picture, "picture")
    with saving(found, body.based_on, lambda row: _picture(row).version) as row:
        return _picture(describe_picture(row, body.name, body.alt))


@router.delete("/mail/pictures/{picture}", response=Done)
def remove_picture(request: MemberRequest, workspace: InPath, picture: UUID) -> Done:
    delete_picture(find(LibraryPicture, request, picture, "picture"))
    return Done(count=1)


def _picture(row: LibraryPicture) -> PictureOut:
    return PictureOut(
        id=row.pk,
        name=row.name,
        alt=row.alt,
        address=address_of(row),
        width=row.width,
        height=row.height,
        size=row.size,
        used=users_of_picture(row),
        version=version_of(PictureIn.from_orm(row), PictureIn),
    )


class DomainOut(Schema):
    id: UUID
    domain: str
    signs: bool
    can_sign: bool
    """Whether its key is found in the DNS."""
    lines: list[DnsLine]
    checked_at: datetime | None


class DomainIn(Schema):
    domain: str


class SigningIn(Schema):
    signs: bool


@router.get("/mail/domains", response=list[DomainOut])
def domains(request: MemberRequest, workspace: InPath) -> list[DomainOut]:
    return [_domain(one) for one in SendingDomain.objects.of(request.workspace).order_by("domain")]


@router.post("/mail/domains", response=DomainOut)
def post_domain(request: MemberRequest, workspace: InPath, body: DomainIn) -> DomainOut:
    return _domain(add_domain(request.workspace, body.domain))


@router.post("/mail/domains/{domain}/check", response=DomainOut)
def check_domain(request: MemberRequest, workspace: InPath, domain: UUID) -> DomainOut:
    """Look at the DNS now."""
    return _domain(look_up(find(SendingDomain, request, domain, "domain")))


@router.put("/mail/domains/{domain}", response=DomainOut)
def put_domain(
    request: MemberRequest, workspace: InPath, domain: UUID, body: SigningIn
) -> DomainOut:
    """Sign emails from it, or no longer."""
    row = find(SendingDomain, request, domain, "domain")
    return _domain(set_signing(row, body.signs, "on" if body.signs else "off"))


@router.delete("/mail/domains/{domain}", response=Done)
def delete_domain(request: MemberRequest, workspace: InPath, domain: UUID) -> Done:
    remove_domain(find(SendingDomain, request, domain, "domain"))
    return Done(count=1)


def _domain(row: SendingDomain) -> DomainOut:
    lines = lines_of(row)
    return DomainOut(
        id=row.pk,
        domain=row.domain,
        signs=row.signs,
        can_sign=signs_well(lines),
        lines=lines,
        checked_at=row.checked_at,
    )


class ReturnedOut(Schema):
    id: UUID
    at: datetime
    kind: str
    status: str
    reason: str
    subject: str
    person: UUID | None
    address: str


class WaitingOut(Schema):
    """An email that waits: for another try, for room in the limits, or since its person asked for fewer."""

    message: str
    person: UUID
    address: str
    attempts: int
    reply: str
    next_at: datetime


class DeliveryOut(DeliveryFigures):
    return_domain: str
    """Where bounces go; empty: they do not come back to this server."""
    returned: list[ReturnedOut]
    waiting: list[WaitingOut]
    """Those whose turn is next."""


class DeliveryQuery(Schema):
    days: int = Field(default=30, ge=1, le=400)


@router.get("/mail/delivery", response=DeliveryOut)
def delivery(request: MemberRequest, workspace: InPath, how: Query[DeliveryQuery]) -> object:
    rows = (
        Returned.objects.of(request.workspace).select_related("subscriber").order_by("-at", "-pk")
    )
    return DeliveryOut(
        **delivery_of(request.workspace, how.days).dict(),
        return_domain=settings.RETURN_DOMAIN,
        returned=[
            ReturnedOut(
                id=one.pk,
                at=one.at,
                kind=one.kind,
                status=one.status,
                reason=one.reason,
                subject=one.subject,
                person=one.subscriber_id,
                address=one.subscriber.address if one.subscriber else "",
            )
            for one in rows[:50]
        ],
        waiting=_waiting(request.workspace),
    )


def _waiting(workspace: Workspace) -> list[WaitingOut]:
    rows = (
        Send.objects.of(workspace)
        .filter(state=Send.State.QUEUED, not_before__gt=clock.now(workspace))
        .select_related("message", "subscriber")
        .order_by("not_before", "pk")
    )
    return [
        WaitingOut(
            message=one.message.name,
            person=one.subscriber_id,
            address=one.subscriber.address,
            attempts=one.attempts,
            reply=one.reply,
            next_at=one.not_before,
        )
        for one in rows[:20]
    ]
