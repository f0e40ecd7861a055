"""Making workspaces and members."""

from uuid import uuid4

from django.db import IntegrityError, transaction
from django.utils.text import slugify

from core.delivering import Duration, SendingTimes, never_fits
from core.documents import Problem, folded
from core.values import read_country, read_email, zone_names

from . import clock
from .errors import refuse
from .history import OWNERS, changes
from .models import Member, Role, User, Workspace


def make_workspace(name: str, owner: User, time_zone: str = "UTC", slug: str = "") -> Workspace:
    """Make an empty workspace; the caller furnishes it with what every workspace has."""
    name = " ".join(name.split())
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write the organisation's name.")
    slug = slug or slugify(folded(name))[:50].strip("-") or "workspace"
    taken = set(Workspace.objects.filter(slug__startswith=slug).values_list("slug", flat=True))
    free = next(
        one for one in (slug, *(f"{slug}-{n}" for n in range(2, 10_000))) if one not in taken
    )
    try:
        with transaction.atomic():
            workspace = Workspace.objects.create(
                name=name[:120], slug=free, time_zone=known_zone(time_zone), sender_name=name[:120]
            )
            Member.objects.create(workspace=workspace, user=owner, role=Role.OWNER)
    except IntegrityError:
        raise refuse(
            "exists", "name", "A workspace of that name was just made.", "Try again."
        ) from None
    return workspace


@changes("changed the settings", roles=OWNERS)
def set_up(
    workspace: Workspace,
    *,
    name: str,
    time_zone: str,
    sender_name: str,
    sender_address: str,
    postal_address: str,
    keeps_ip: bool,
    asks_zone: bool = False,
    country: str = "",
    retention_days: int | None = None,
    email_gap_days: int = 0,
    attention_after: int = 1,
    many_in_a_day: int = 100,
    approves_broadcasts: bool = False,
    sending_times: SendingTimes | None = None,
) -> Workspace:
    """Change the settings of a workspace."""
    address = ""
    if sender_address.strip():
        read = read_email(sender_address)
        if isinstance(read, Problem):
            raise refuse(read.code, "sender_address", read.sentence, read.fix)
        address = read
    if not name.strip():
        raise refuse("no_name", "name", "It needs a name.", "Write the organisation's name.")
    workspace.name = name.strip()[:120]
    workspace.time_zone = known_zone(time_zone)
    workspace.sender_name = " ".join(sender_name.split())[:120]
    workspace.sender_address = address
    workspace.postal_address = " ".join(postal_address.split())[:300]
    workspace.keeps_ip = keeps_ip
    workspace.asks_zone = asks_zone
    workspace.country = _known_country(country)
    if retention_days is not None and not 1 <= retention_days <= 36_500:
        raise refuse("retention", "retention_days", "Keep them for 1 day or more, or for good.")
    workspace.retention_days = retention_days
    times = sending_times or SendingTimes()
    if not times.weekdays:
        raise refuse(
            "never_sends",
            "sending_times",
            "The sending times name no weekday, so nothing would ever go out.",
            "Choose a weekday.",
        )
    gap = Duration(amount=email_gap_days, unit="days") if email_gap_days else None
    stuck = never_fits(times, gap, clock.now(workspace).date())
    if stuck is not None:
        raise refuse(
            "never_sends",
            "sending_times",
            f"An email that is due on {stuck:%-d %B %Y} would find no time to go within 60 days.",
            "Allow more days, shorten the row of quiet dates, or make the gap between emails shorter.",
        )
    workspace.sending_times = times.model_dump(mode="json") if not times.always else {}
    workspace.email_gap_days = email_gap_days
    workspace.attention_after, workspace.many_in_a_day = attention_after, many_in_a_day
    workspace.approves_broadcasts = approves_broadcasts
    changed = ("name", "time_zone", "sender_name", "sender_address", "postal_address")
    more = ("keeps_ip", "asks_zone", "country", "retention_days", "sending_times", "email_gap_days")
    told = ("attention_after", "many_in_a_day", "approves_broadcasts")
    workspace.save(update_fields=[*changed, *more, *told])
    catalogue_changed(workspace)
    return workspace


def catalogue_changed(workspace: Workspace) -> None:
    """Say that a field, tag, list, sequence or message was made, changed or removed."""
    workspace.catalogue_version = uuid4()
    Workspace.objects.filter(pk=workspace.pk).update(catalogue_version=workspace.catalogue_version)


def _known_country(text: str) -> str:
    read = read_country(text) if text.strip() else ""
    if isinstance(read, Problem):
        raise refuse(read.code, "country", read.sentence, read.fix)
    return read


def known_zone(name: str) -> str:
    """The IANA name, if it is one."""
    if name not in zone_names():
        raise refuse(
            "no_zone",
            "time_zone",
            f"“{name}” is not a time zone.",
            "Use an IANA name, such as Europe/Lisbon.",
        )
    return name
