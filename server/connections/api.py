"""Services: connections, what they take, what was handed over, what they told."""

from collections.abc import Callable
from datetime import timedelta
from typing import Literal
from uuid import UUID

from django.conf import settings
from django.db.models import Count, Q
from ninja import Router

from core.documents import Problem
from core.services import (
    FarField,
    HeardKind,
    HeardRule,
    ServiceDescription,
    Thing,
    check_description,
    understand,
)
from server.people.models import Subscriber
from server.services import connecting
from server.services.again import (
    prepared_for,
    test_handoff,
    was_there,
)
from server.services.described import shipped
from server.services.facts import fields_of_service, things_of
from server.services.models import Handoff, Heard, Service
from server.services.secrets import secrets_of
from server.services.tokens import SignInFailed, begin, finish
from server.sources.uses import users_of
from server.submissions.schemas import Answer
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, find, member, member_reads
from server.workspaces.errors import Forbidden, refuse
from server.workspaces.forms import saving, version_of
from server.workspaces.history import OWNERS
from server.workspaces.models import Role, Workspace
from server.workspaces.schemas import Done
from server.workspaces.shapes import Json

from .concerns import Come, concerns, entered_last, last_of_sequence, last_of_source
from .openapi import from_openapi
from .reading import read_and_say
from .schemas import (
    AgreedIn,
    AgreeOut,
    ChangeOut,
    ConnectIn,
    DescriptionCheck,
    FieldMadeIn,
    FilledOut,
    HandoverSampleIn,
    HandoverSampleOut,
    HandoverTestOut,
    HeardKindOut,
    HeardOut,
    KindLine,
    OpenApiIn,
    ReadOut,
    SecretOut,
    SecretsIn,
    ServiceIn,
    ServiceLine,
    ServiceOut,
    ServiceSettings,
    ServiceUse,
    ThingMadeIn,
)

router = Router(tags=["services"], auth=member)
FIGURES_OF = timedelta(days=30)


@router.get("/service-kinds", response=list[KindLine])
def service_kinds(request: MemberRequest, workspace: InPath) -> object:
    return [
        KindLine(
            key=key,
            name=one.name,
            about=one.about,
            base=one.base,
            needs_address=".example.com" in one.base or "//example.com" in one.base,
            sign_in=one.sign_in,
            hands_over=bool(one.operations),
            hears=bool(one.hearing or one.polling),
        )
        for key, one in shipped().items()
    ]


@router.get("/services", response=list[ServiceLine])
def services(request: MemberRequest, workspace: InPath) -> object:
    rows = Service.objects.of(request.workspace).order_by("folded")
    figures = _figures(request.workspace)
    return [_line(one, figures) for one in rows]


@router.post("/services", response=ServiceOut)
def post_service(request: MemberRequest, workspace: InPath, body: ConnectIn) -> object:
    """Connect a service by a description that ships, or by one's own."""
    described = body.description or shipped().get(body.kind)
    if described is None:
        raise refuse("no_description", "kind", "There is no such description.", "Choose another.")
    if body.base.strip():
        described = described.model_copy(update={"base": body.base.strip()})
    row = connecting.connect(request.workspace, body.name, body.purpose, described)
    return _out(row, request)


@router.get("/services/{service}", response=ServiceOut)
def get_service(request: MemberRequest, workspace: InPath, service: UUID) -> object:
    return _out(_find(request, service), request)


@router.put("/services/{service}", response=ServiceOut)
def put_service(
    request: MemberRequest, workspace: InPath, service: UUID, body: ServiceIn
) -> object:
    found = _find(request, service)
    if not 1 <= body.poll_minutes <= 1440:
        raise refuse("minutes", "poll_minutes", "From one minute to a day.", "Change the minutes.")
    values: Json = body.model_dump(exclude={"list_id", "hears", "based_on"})
    values["purpose"] = body.purpose.strip()[:200]
    values["list"] = connecting.list_or_none(request.workspace, body.list_id)
    values["hears"] = {kind: one.model_dump(mode="json") for kind, one in body.hears.items()}
    with saving(
        found, body.based_on, lambda row: version_of(_settings(row), ServiceSettings)
    ) as row:
        connecting.change(row, **values)
    return _out(row, request)


@router.delete("/services/{service}", response=Done)
def delete_service(request: MemberRequest, workspace: InPath, service: UUID) -> object:
    row = _find(request, service)
    users = _uses(row)
    if users:
        names = ", ".join(dict.fromkeys(f"“{one.name}”" for one in users))
        raise refuse(
            "in_use",
            "service",
            f"{row.name} is used by {names}.",
            "Remove it there first, and turn the changes on.",
        )
    connecting.disconnect(row)
    return Done(count=1)


@router.put("/services/{service}/secrets", response=ServiceOut)
def put_secrets(
    request: MemberRequest, workspace: InPath, service: UUID, body: SecretsIn
) -> object:
    """Keep what it signs in with. It is never shown again."""
    row = _find(request, service)
    unknown = set(body.values) - set(_secret_names(row))
    if unknown:
        raise refuse("unknown_secret", "values", f"It asks for no {', '.join(unknown)}.", "")
    connecting.set_secrets(row, body.values)
    return _out(row, request)


@router.put("/services/{service}/description", response=ServiceOut)
def put_description(
    request: MemberRequest, workspace: InPath, service: UUID, body: ServiceDescription
) -> object:
    """Another description, imported or written; it is tried at once."""
    row = _find(request, service)
    connecting.describe(row, body)
    return _out(row, request)


def _add_act(word: str, act: Callable[[Service], object]) -> None:
    @router.post(
        f"/services/{{service}}/{word}", response=ServiceOut, operation_id=f"service_{word}"
    )
    def post_act(request: MemberRequest, workspace: InPath, service: UUID) -> object:
        row = _find(request, service)
        act(row)
        return _out(row, request)


for _word, _act in (
    ("try", connecting.try_again),
    ("pause", connecting.pause),
    ("resume", connecting.resume),
):
    _add_act(_word, _act)


@router.post("/services/{service}/read", response=ReadOut)
def post_read(request: MemberRequest, workspace: InPath, service: UUID) -> object:
    """Read its fields and things anew; what changed."""
    row = _find(request, service)
    changed = read_and_say(row)
    return ReadOut(
        service=_out(row, request), changes=[ChangeOut(sentence=one.sentence) for one in changed]
    )


@router.post("/services/{service}/fields", response=FarField)
def post_field(
    request: MemberRequest, workspace: InPath, service: UUID, body: FieldMadeIn
) -> FarField:
    """Make a field over there."""
    row = _find(request, service)
    return connecting.make_field(row, body.key, body.label, body.type, body.choices)


@router.post("/services/{service}/things", response=Thing)
def post_thing(
    request: MemberRequest, workspace: InPath, service: UUID, body: ThingMadeIn
) -> Thing:
    """Make a list, a tag or the like over there."""
    return connecting.make_thing(_find(request, service), body.kind, body.label)


@router.post("/services/{service}/agree", response=AgreeOut)
def post_agree(request: MemberRequest, workspace: InPath, service: UUID) -> object:
    """Where a member agrees over there; they come back to the service's page."""
    row = _find(request, service)
    _must_own(request)
    if ServiceDescription.model_validate(row.description).sign_in.kind != "oauth_code":
        raise refuse("other_sign_in", "service", "This service has no page to agree on.", "")
    back = f"{settings.PUBLIC_ADDRESS}/w/{request.workspace.slug}/services/{row.pk}/agreed"
    return AgreeOut(at=begin(row, back))


@router.post("/services/{service}/agreed", response=ServiceOut)
def post_agreed(request: MemberRequest, workspace: InPath, service: UUID, body: AgreedIn) -> object:
    """The member came back with a code."""
    row = _find(request, service)
    _must_own(request)
    try:
        finish(row, body.code, body.state)
    except SignInFailed as error:
        raise refuse("not_signed_in", "code", str(error), "Sign in once more.") from error
    connecting.try_again(row)
    return _out(row, request)


@router.post("/services/{service}/hear-secret", response=SecretOut)
def post_hear_secret(request: MemberRequest, workspace: InPath, service: UUID) -> object:
    """Make a new secret that its calls are signed with; shown this once. The one before is good for a
    day more."""
    row = _find(request, service)
    _must_own(request)
    return SecretOut(secret=connecting.renew_hear_secret(row))


@router.post("/services/{service}/sample", response=HandoverSampleOut, auth=member_reads)
def post_sample(
    request: MemberRequest, workspace: InPath, service: UUID, body: HandoverSampleIn
) -> object:
    """What would be sent of a sample, line by line, and how many of the last people it would go wrong
    for."""
    row = _find(request, service)
    person, answers = _sample_of(request, body, last_of_sequence)
    prepared = prepared_for(row, body.handover, answers, person, body.values)
    if isinstance(prepared, Problem):
        return HandoverSampleOut(
            lines=[], problems=[prepared], waits=True, concerns=[], looked_at=0
        )
    address = str(body.values.get("email") or (person.address if person else ""))
    # Readers read what is here; asking over there is for those who may change something.
    looks = body.looks and request.member.role != Role.READER
    there = (was_there(row, address) or {}) if looks else {}
    people = _last_people(request, body)
    return HandoverSampleOut(
        lines=[
            FilledOut(
                line=one.line,
                to=one.to,
                label=one.label,
                shown=one.shown,
                problem=one.problem,
                there=_there(there.get(one.to)),
            )
            for one in prepared.payload.lines
        ],
        problems=list(prepared.problems),
        waits=prepared.waits,
        concerns=concerns(row, body.handover, people),
        looked_at=len(people),
        of=address,
    )


def _last_people(request: MemberRequest, body: HandoverSampleIn) -> list[Come]:
    if body.source:
        return last_of_source(request.workspace, body.source)
    return last_of_sequence(request.workspace, body.sequence) if body.sequence else []


def _sample_of(
    request: MemberRequest, body: HandoverSampleIn, last: Callable[..., list[Come]]
) -> tuple[Subscriber | None, tuple[tuple[str, str], ...]]:
    """Who the sample is about, where it is somebody, and the answers."""
    answers = tuple((one.name, one.text) for one in body.answers)
    if body.person:
        return find(Subscriber, request, body.person, "person"), answers
    if body.sequence and not answers:
        for person, given in last(request.workspace, body.sequence, 1):
            return person, tuple((name, text) for name, text in given)
    return None, answers


@router.post("/services/{service}/test", response=HandoverTestOut)
def post_test(
    request: MemberRequest, workspace: InPath, service: UUID, body: HandoverSampleIn
) -> object:
    """Hand over one sample at once, marked as a test."""
    row = _find(request, service)
    # Nobody is handed over, even as a test, who never came in here.
    person, answers = _sample_of(request, body, entered_last)
    handoff, asked, see = test_handoff(row, body.handover, answers, person, body.values)
    last = asked[-1][1] if asked else None
    return HandoverTestOut(
        handoff=handoff.pk,
        done=handoff.state == Handoff.State.DONE,
        outcome=handoff.outcome,
        request=last.request if last else "",
        status=last.status if last else None,
        answer=(last.text or last.error) if last else "",
        see=see,
    )


@router.get("/services/{service}/heard", response=list[HeardOut])
def service_heard(
    request: MemberRequest,
    workspace: InPath,
    service: UUID,
    type: str = "",
    state: Literal["waiting", "taken", "ignored", "refused"] | None = None,
) -> object:
    """The newest, of one type or with one outcome where one is named."""
    rows = Heard.objects.of(request.workspace).filter(service=_find(request, service))
    if type:
        rows = rows.filter(type=type)
    if state is not None:
        rows = rows.filter(state=state)
    return [
        HeardOut(
            id=one.pk,
            at=one.at,
            type=one.type,
            state=one.state,
            outcome=one.outcome,
            person=one.subscriber_id,
            content=one.content,
        )
        for one in rows.order_by("-pk")[:30]
    ]


@router.post("/service-descriptions/check", response=DescriptionCheck, auth=member_reads)
def post_check(request: MemberRequest, workspace: InPath, body: ServiceDescription) -> object:
    return DescriptionCheck(findings=list(check_description(body)))


@router.post("/service-descriptions/from-openapi", response=ServiceDescription, auth=member_reads)
def post_openapi(request: MemberRequest, workspace: InPath, body: OpenApiIn) -> object:
    """The beginning of a description, from an OpenAPI document."""
    return from_openapi(body.document)


def _find(request: MemberRequest, pk: UUID) -> Service:
    row: Service = find(Service, request, pk, "service")
    return row


def _must_own(request: MemberRequest) -> None:
    if request.member.role not in OWNERS:
        raise Forbidden("Only an owner of the workspace may do this. Ask an owner of it.")


def _uses(row: Service) -> list[ServiceUse]:
    users = users_of(row.workspace).get(str(row.pk), [])
    named = [ServiceUse(kind=one.kind, id=one.pk, name=one.name, live=one.live) for one in users]
    for other in Service.objects.of(row.workspace).exclude(hears={}).order_by("folded"):
        rules = [HeardRule.model_validate(one) for one in other.hears.values()]
        if any(made.service == str(row.pk) for rule in rules for made in rule.rows):
            named.append(ServiceUse(kind="service", id=str(other.pk), name=other.name, live=True))
    return named


def _figures(workspace: Workspace) -> dict[UUID, dict[str, int]]:
    """Counts by service: handed over in the last days, failed, waiting."""
    since = clock.now(workspace) - FIGURES_OF
    waiting = (Handoff.State.WAITING, Handoff.State.CONSENT, Handoff.State.SENDING)
    rows = (
        Handoff.objects.of(workspace)
        .filter(is_test=False)
        .filter(Q(created_at__gte=since) | Q(state__in=(*waiting, Handoff.State.FAILED)))
        .values("service")
        .annotate(
            handed=Count("pk", filter=Q(state=Handoff.State.DONE, done_at__gte=since)),
            failed=Count("pk", filter=Q(state=Handoff.State.FAILED)),
            waiting=Count("pk", filter=Q(state__in=waiting)),
        )
    )
    return {one["service"]: one for one in rows}


def _line(row: Service, figures: dict[UUID, dict[str, int]]) -> ServiceLine:
    described = ServiceDescription.model_validate(row.description)
    counts = figures.get(row.pk, {})
    return ServiceLine(
        id=row.pk,
        name=row.name,
        purpose=row.purpose,
        kind=described.name,
        state=row.state,
        trouble=row.trouble,
        account=row.account,
        handed=counts.get("handed", 0),
        failed=counts.get("failed", 0),
        waiting=counts.get("waiting", 0),
        handed_at=row.handed_at,
        heard_at=row.heard_at,
        hands_over=bool(described.operations),
        hears=bool(described.hearing or described.polling),
    )


def _out(row: Service, request: MemberRequest) -> ServiceOut:
    row.refresh_from_db()
    row.workspace = request.workspace
    described = ServiceDescription.model_validate(row.description)
    may = request.member.role != Role.READER
    held = _settings(row)
    return ServiceOut(
        **_line(row, _figures(request.workspace)).model_dump(),
        description=described,
        fields=list(fields_of_service(row, described)),
        things={kind: list(many) for kind, many in things_of(row).items()},
        read_at=row.read_at,
        stale=connecting.is_stale(row, clock.now(request.workspace)),
        checked_at=row.checked_at,
        open_until=row.open_until,
        settings=held,
        version=version_of(held, ServiceSettings),
        has_secrets=[
            name for name in (*_secret_names(row), "access_token") if secrets_of(row).get(name)
        ],
        hear_address=f"{settings.PUBLIC_ADDRESS}/hear/{row.hear_key}"
        if may and described.hearing
        else "",
        heard_kinds=[_heard_kind(row, one) for one in described.hearing.kinds]
        if described.hearing
        else [],
        poll_at=row.poll_at if described.polling else None,
        uses=_uses(row),
    )


def _settings(row: Service) -> ServiceSettings:
    described = ServiceDescription.model_validate(row.description)
    kinds = described.hearing.kinds if described.hearing else ()
    return ServiceSettings(
        name=row.name,
        purpose=row.purpose,
        list_id=row.list_id,
        passes_leaving=row.passes_leaving,
        passes_erasing=row.passes_erasing,
        hears_unknown=row.hears_unknown,
        hears_leaving=row.hears_leaving,
        poll_minutes=row.poll_minutes,
        hears={one.type: HeardRule.model_validate(row.hears.get(one.type, {})) for one in kinds},
    )


def _heard_kind(row: Service, kind: HeardKind) -> HeardKindOut:
    newest = (
        Heard.everywhere.filter(service=row, type=kind.type)
        .exclude(content=None)
        .order_by("-pk")
        .first()
    )
    hearing = ServiceDescription.model_validate(row.description).hearing
    told = understand(hearing, newest.content) if newest and hearing else None
    return HeardKindOut(
        type=kind.type,
        label=kind.label,
        event=kind.event,
        data=list(kind.data),
        fields=list(kind.fields),
        leaves=kind.leaves,
        sample=[Answer(name=name, text=text) for name, text in told.answers] if told else [],
    )


def _secret_names(row: Service) -> tuple[str, ...]:
    """What it signs in with, by the names that it is kept by."""
    match ServiceDescription.model_validate(row.description).sign_in.kind:
        case "key":
            return ("key",)
        case "basic":
            return ("name", "password")
        case "oauth_code" | "oauth_client":
            return ("client_id", "client_secret")
        case "signed":
            return ("signing",)
        case _:
            return ()


def _there(value: object) -> str:
    """What stands over there, as people read it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return ", ".join(str(one) for one in value)[:200]
    return "" if value is None or isinstance(value, dict) else str(value)[:200]
