"""What services tell: their calls, signed by the Standard Webhooks specification, and what becomes of each
event here."""

import hashlib
import json
import time
from collections.abc import Sequence
from dataclasses import replace
from uuid import UUID

import structlog
from django.conf import settings
from django.core.cache import cache
from django.db import OperationalError, transaction
from django.http import HttpRequest, JsonResponse
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods
from standardwebhooks import Webhook
from standardwebhooks.webhooks import EmptyWebhookSecretError, WebhookVerificationError

from core.deciding import taken
from core.documents import DEEPEST, Because, TooDeep, first_unclean, read_json
from core.people import Catalogue, Person
from core.services import HeardEvent, HeardRule, ServiceDescription, happened_at, understand
from core.values import address_key
from server.people.addresses import current_addresses, named_in, note_mentions
from server.people.effects import apply_effects
from server.people.erased import erased_at
from server.people.facts import person_of, values_of
from server.people.ledger import Ledger
from server.people.locks import locked_people, person_key, retried
from server.people.memberships import unsubscribe
from server.people.models import Fact, MailingList, Subscriber
from server.people.trail import fact
from server.sequences.entering import leave_sequences_of_lists
from server.sequences.facts import catalogue_of
from server.services.jobs import HEAR
from server.services.models import Heard, Service
from server.services.outbox import Handoffs
from server.workspaces import clock
from server.workspaces.copying import update_all
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_once
from server.workspaces.sealing import opened

log = structlog.get_logger("yalla.services")
KEPT_REFUSED = 50
SET = 100
_LONGEST_ID = 200


@csrf_exempt
@require_http_methods(["POST"])
def hear(request: HttpRequest, key: str) -> JsonResponse:
    """Take a call of a service: 202 when it is stored, 200 when it was stored before."""
    service = Service.everywhere.select_related("workspace").filter(hear_key=key).first()
    if service is None:
        return JsonResponse({"title": "No service has this address."}, status=404)
    if int(request.META.get("CONTENT_LENGTH") or 0) > settings.LARGEST_PUBLIC_BODY:
        return _refused(service, 413, "The body is larger than 64 KB.")
    body = request.body
    hearing = ServiceDescription.model_validate(service.description).hearing
    if hearing is None:
        return _refused(service, 409, "Nothing is taken from this service.")
    if hearing.signed == "standard" and not _is_signed(service, request, body):
        outcome = "The signature does not fit the body, or the call is older than five minutes."
        return _refused(service, 401, outcome)
    if _too_many(service, "calls", settings.POSTS_PER_MINUTE):
        # Nothing is kept of it: whoever sends it is asked to send it again.
        response = JsonResponse({"title": "Too many calls in this minute."}, status=429)
        response["Retry-After"] = "60"
        return response
    try:
        event = read_json(body)
    except TooDeep:
        return _refused(service, 422, f"The body is nested more than {DEEPEST} levels deep.")
    except ValueError:
        return _refused(service, 422, "The body is not JSON.")
    if not isinstance(event, dict) or first_unclean(event) is not None:
        return _refused(service, 422, "The body is not an object that can be kept.")
    heard = understand(hearing, event)
    named = heard.id or request.headers.get("webhook-id", "")
    [stored] = store_events(service, [(named, heard.type, event)])
    if not stored:
        return JsonResponse({"title": "This event was taken before."}, status=200)
    return JsonResponse({"title": "Taken."}, status=202)


def _is_signed(service: Service, request: HttpRequest, body: bytes) -> bool:
    headers = {name.lower(): text for name, text in request.headers.items()}
    secrets = [service.hear_secret]
    until = service.hear_secret_until
    if until is not None and until > clock.now(service.workspace):
        secrets.append(service.hear_secret_before)
    return any(_verifies(opened(one), body, headers) for one in secrets)


def _verifies(secret: str, body: bytes, headers: dict[str, str]) -> bool:
    try:
        Webhook(secret).verify(body, headers)
    except (json.JSONDecodeError, RecursionError):
        # It reads the body once the signature is found to be right.
        return True
    except (WebhookVerificationError, EmptyWebhookSecretError, ValueError, RuntimeError):
        return False
    return True


def _refused(service: Service, status: int, outcome: str) -> JsonResponse:
    """Keep that a call came and was refused, the newest of them; what it said is kept nowhere."""
    response = JsonResponse({"title": outcome}, status=status)
    if _too_many(service, "refused", KEPT_REFUSED):
        return response
    now = clock.now(service.workspace)
    Heard.everywhere.create(
        workspace=service.workspace,
        service=service,
        event_id=f"refused/{now.isoformat()}/{hashlib.sha256(outcome.encode()).hexdigest()[:8]}",
        at=now,
        state=Heard.State.REFUSED,
        outcome=f"{status}: {outcome}",
    )
    refused = Heard.everywhere.filter(service=service, state=Heard.State.REFUSED)
    old = list(refused.order_by("-pk").values_list("pk", flat=True)[KEPT_REFUSED:])
    Heard.everywhere.filter(pk__in=old).delete()
    return response


def _too_many(service: Service, what: str, most: int) -> bool:
    """Whether this is more of it than a minute takes; counted by each process for itself."""
    name = f"hear/{service.pk}/{what}/{int(time.time() // 60)}"
    cache.add(name, 0, 120)
    try:
        return cache.incr(name) > most
    except ValueError:
        # Thrown out of the cache just now.
        return False


def store_events(service: Service, events: Sequence[tuple[str, str, object]]) -> list[bool]:
    """Store events (id, type, content), each once; which were new. In the caller's transaction, if
    there is one."""
    now = clock.now(service.workspace)
    rows = [
        Heard(
            workspace_id=service.workspace_id,
            service=service,
            event_id=(pk or _hash(content))[:_LONGEST_ID],
            type=kind[:80],
            at=now,
            content=content,
        )
        for pk, kind, content in events
    ]
    with transaction.atomic():
        there = set(
            Heard.everywhere.filter(
                service=service, event_id__in=[one.event_id for one in rows]
            ).values_list("event_id", flat=True)
        )
        Heard.everywhere.bulk_create(rows, ignore_conflicts=True)
        service.heard_at = now
        service.save(update_fields=["heard_at"])
        defer_once(HEAR, service.workspace_id)
    return [one.event_id not in there for one in rows]


def _hash(content: object) -> str:
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()


def take_heard(workspace_id: UUID | str) -> int:
    """Carry out what services sent, in the order in which it came; how many events."""
    workspace = Workspace.objects.filter(pk=workspace_id).first()
    done = 0
    while workspace is not None:
        try:
            many = _take_set(workspace, SET)
        except OperationalError:
            raise
        except Exception:
            log.exception("events failed", workspace=str(workspace.pk))
            many = _one_by_one(workspace)
        if not many:
            break
        done += many
    return done


def _one_by_one(workspace: Workspace) -> int:
    """Of a set in which something cannot be taken: that one is refused, and stops nobody."""
    waiting = Heard.objects.of(workspace).filter(state=Heard.State.WAITING).order_by("pk")
    ids = list(waiting.values_list("pk", flat=True)[:SET])
    for pk in ids:
        try:
            _take_set(workspace, 1)
        except OperationalError:
            raise
        except Exception:
            log.exception("event failed", heard=str(pk))
            Heard.everywhere.filter(pk=pk, state=Heard.State.WAITING).update(
                state=Heard.State.REFUSED,
                outcome="It could not be taken, for a fault of this server.",
            )
    return len(ids)


@retried
def _take_set(workspace: Workspace, most: int) -> int:
    rows = list(
        Heard.objects.of(workspace)
        .filter(state=Heard.State.WAITING)
        .select_related("service")
        .order_by("pk")[:most]
    )
    if not rows:
        return 0
    events = [_understood(row) for row in rows]
    # Whoever is known here by another address by now is who it is about.
    now_at = current_addresses(workspace, {one.address for one in events if one and one.address})
    events = [one and replace(one, address=now_at.get(one.address, one.address)) for one in events]
    addresses = {one.address for one in events if one and one.address}
    people = locked_people(workspace, [(one, False) for one in sorted(addresses)])
    # Under the locks: whoever took some of these meanwhile is through with them.
    waiting = set(
        Heard.objects.of(workspace)
        .filter(pk__in=[row.pk for row in rows], state=Heard.State.WAITING)
        .select_for_update()
        .values_list("pk", flat=True)
    )
    taking = _Taking(workspace, people, addresses)
    for row, one in zip(rows, events, strict=True):
        if row.pk in waiting:
            row.workspace = workspace
            taking.take(row, one)
    taking.write()
    note_mentions(
        workspace,
        (
            (address, "heard", row.pk)
            for row, one in zip(rows, events, strict=True)
            if row.content is not None
            for address in named_in(row.content, but=[row.address_key])
        ),
    )
    done = [row for row in rows if row.pk in waiting]
    update_all(done, ("state", "outcome", "subscriber", "address_key"))
    emptied = [row.pk for row in done if row.content is None]
    if emptied:
        Heard.everywhere.filter(pk__in=emptied).update(content=None)
    return len(rows)


def _understood(row: Heard) -> HeardEvent | None:
    hearing = ServiceDescription.model_validate(row.service.description).hearing
    return understand(hearing, row.content) if hearing and row.content is not None else None


class _Taking:
    """What a set of events comes to: people in the ledger, rows for sheets, and who leaves."""

    def __init__(
        self, workspace: Workspace, people: dict[str, Subscriber], addresses: set[str]
    ) -> None:
        self.workspace = workspace
        self.people = people
        self.catalogue: Catalogue = catalogue_of(workspace)
        self.erased = erased_at(workspace, addresses)
        self.ledger = Ledger()
        self.handoffs = Handoffs()
        self.persons: dict[UUID, Person] = {}
        self.tags: dict[UUID, set[str]] = {}
        self.leaving: list[tuple[Subscriber, Service, Because]] = []
        self.addresses: dict[UUID, str] = {}

    def take(self, row: Heard, event: HeardEvent | None) -> None:
        """One event; the row says what became of it."""
        row.state = Heard.State.IGNORED
        if event is None or event.kind is None:
            row.outcome = "Of a kind that is not taken."
            return
        row.address_key = address_key(event.address)
        if event.problem is not None:
            row.state, row.outcome = Heard.State.REFUSED, event.problem.sentence[:300]
            return
        service = row.service
        rule = HeardRule.model_validate(service.hears.get(event.type, {}))
        if not rule.take:
            row.outcome = "Not taken, as it is set."
            return
        because = Because(
            kind="service",
            sentence=event.kind.label.lower(),
            service_id=str(service.pk),
            service_name=service.name,
        )
        at = happened_at(event.at, row.at)
        known = self.people.get(person_key(event.address))
        erased = known is None and event.address in self.erased
        subscriber = None if erased else known or self._new(row, event, because)
        self._append_rows(row, event, rule, subscriber, because)
        if erased:
            # Nothing of them is kept, what came just now neither.
            row.content, row.address_key = None, ""
            row.outcome = "Somebody with this address was erased, so nothing is kept."
        if subscriber is None:
            row.outcome = row.outcome or "Nobody here has this address."
            return
        row.subscriber = subscriber
        self.addresses[subscriber.pk] = subscriber.address
        person = self._person(subscriber)
        have = self.tags.setdefault(subscriber.pk, set(person.tags))
        effects, problems = taken(event, rule, person, self.catalogue, because)
        fresh = tuple(
            one
            for one in effects
            if getattr(one, "kind", "") != "add_tag" or one.tag not in have  # type: ignore[union-attr]
        )
        have |= {one.tag for one in fresh if one.kind == "add_tag"}
        apply_effects(self.ledger, subscriber, fresh, {}, at)
        row.state = Heard.State.TAKEN
        row.outcome = " · ".join(one.in_words() for one in fresh)[:300]
        if problems:
            row.outcome = f"{row.outcome} · {problems[0].sentence}"[:300]
        if event.kind.leaves and service.hears_leaving and service.list_id:
            self.leaving.append((subscriber, service, because))

    def _person(self, subscriber: Subscriber) -> Person:
        """Somebody as the events so far have left them; of who is new nothing is stored yet."""
        if subscriber.pk not in self.persons:
            self.persons[subscriber.pk] = person_of(subscriber)
        return replace(self.persons[subscriber.pk], values=values_of(subscriber))

    def _new(self, row: Heard, event: HeardEvent, because: Because) -> Subscriber | None:
        """Somebody unknown is added where it is so set."""
        if not row.service.hears_unknown or (event.kind and event.kind.leaves):
            return None
        made = Subscriber(
            workspace=self.workspace,
            address=event.address,
            address_key=address_key(event.address),
            added_at=row.at,
        )
        self.ledger.new.append(made)
        self.ledger.facts.append(fact(made, Fact.Kind.ADDED, {}, because, row.at))
        self.people[made.address_key] = made
        self.persons[made.pk] = Person(address=made.address)
        return made

    def _append_rows(
        self,
        row: Heard,
        event: HeardEvent,
        rule: HeardRule,
        subscriber: Subscriber | None,
        because: Because,
    ) -> None:
        for number, handover in enumerate(rule.rows):
            facts = self.catalogue.services.get(handover.service or "")
            operation = facts.operation(handover.operation) if facts else None
            if facts is not None and operation is not None:
                self.handoffs.add_row(
                    subscriber,
                    facts.id,
                    handover,
                    f"heard/{row.pk}/{number}",
                    row.at,
                    because,
                    operation=operation.label,
                    answers=[list(pair) for pair in event.answers],
                    address="" if subscriber else event.address,
                    workspace=self.workspace.pk,
                )

    def write(self) -> None:
        """Store it all, in the caller's transaction."""
        note_mentions(
            self.workspace,
            (
                (address, "fact", one.id)
                for one in self.ledger.facts
                if one.kind == Fact.Kind.EVENT and "data" in one.what
                for address in named_in(one.what["data"], but=[self.addresses[one.subscriber_id]])
            ),
        )
        self.ledger.write()
        self.handoffs.write()
        for subscriber, service, because in self.leaving:
            lists = MailingList.objects.of(self.workspace).filter(pk=service.list_id)
            left = unsubscribe(subscriber, lists, because, "")
            leave_sequences_of_lists(self.workspace, [(subscriber, one) for one in left])
