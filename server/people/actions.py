"""What changes people, always with a because."""

from collections.abc import Callable, Iterable, Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.utils.text import slugify

from core.deciding import (
    AddTag,
    Decision,
    Effect,
    Event,
    LeaveAllLists,
    Owner,
    RemoveTag,
    Score,
    SetField,
    SetZone,
    Subscribe,
    Task,
    TellMembers,
)
from core.documents import Because, folded
from core.people import membership as consent
from core.values import Choice, address_key
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.causes import caused_by
from server.workspaces.copying import instance, plain
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace
from server.workspaces.personal import Subject, erase_everywhere

from .addresses import addresses_of
from .at_hand import memberships_of
from .chain import erase_evidence
from .erased import remember_erased
from .ledger import Ledger
from .locks import locked_person, person_key
from .models import (
    Evidence,
    Fact,
    Field,
    MailingList,
    Membership,
    Subscriber,
    Tag,
    Tagging,
    built_in_fields,
)
from .models import Task as TaskRow
from .suppression import suppress


def furnish(workspace: Workspace) -> None:
    """Give a new workspace the fields that every workspace has."""
    Field.everywhere.bulk_create(built_in_fields(workspace))


@changes("made the field “{label}”")
def make_field(
    workspace: Workspace, label: str, field_type: str, choices: tuple[Choice, ...] = ()
) -> Field:
    """Make a field; its key comes from the label and never changes."""
    label = _named(label, 80)
    key = slugify(folded(label)).replace("-", "_")[:60]
    if not key:
        raise refuse("bad_name", "label", "The name needs a letter or a digit.", "Choose another.")
    if key in ("answers", "workspace"):
        raise refuse(
            "reserved", "label", f"“{label}” has a meaning in texts.", "Choose another name."
        )
    if field_type == Field.Type.EMAIL:
        raise refuse("second_address", "type", "A person has one address: the field Email.")
    return _make(
        Field(
            workspace=workspace,
            key=key,
            label=label,
            type=Field.Type(field_type),
            choices=[choice.model_dump(mode="json") for choice in choices],
        ),
        "field",
    )


@changes("made the tag “{name}”")
def make_tag(workspace: Workspace, name: str) -> Tag:
    """Make a tag."""
    name = _named(name, 60)
    return _make(Tag(workspace=workspace, name=name, folded=folded(name)), "tag")


@changes("made the list “{name}”")
def make_list(workspace: Workspace, name: str, description: str = "") -> MailingList:
    """Make a mailing list."""
    name = _named(name, 80)
    row = MailingList(
        workspace=workspace, name=name, folded=folded(name), description=description.strip()[:300]
    )
    return _make(row, "list")


def _named(name: str, limit: int) -> str:
    name = " ".join(name.split())
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write what it is for.")
    if len(name) > limit:
        raise refuse(
            "long_name", "name", f"The name is longer than {limit} characters.", "Shorten it."
        )
    return name


def _make(row: Any, what: str) -> Any:
    try:
        with transaction.atomic():
            row.save(force_insert=True)
    except IntegrityError:
        name = getattr(row, "name", None) or row.label
        raise refuse(
            "exists",
            "name",
            f"There is a {what} named like “{name}” already.",
            "Use that one, or choose another name.",
        ) from None
    catalogue_changed(row.workspace)
    return row


def find_by_address(workspace: Workspace, address: str) -> Subscriber | None:
    """The subscriber with this address, whatever its case."""
    return Subscriber.objects.of(workspace).filter(address_key=address_key(address)).first()


def erase_person(subscriber: Subscriber) -> None:
    """Remove a person and all that any room holds of them; the caller has locked them.

    A keyed hash of each of their addresses stays, so that no import brings them back; not of a test's.
    """
    addresses = addresses_of(subscriber)
    if not subscriber.is_test:
        for one in addresses:
            remember_erased(subscriber.workspace, one)
    erase_everywhere(
        Subject(
            workspace=subscriber.workspace,
            person=subscriber.pk,
            addresses=addresses,
            keys=(subscriber.address_key, *(address_key(one) for one in addresses[1:])),
            texts=_texts_of(subscriber),
        )
    )
    unmake_person(subscriber)


def _texts_of(subscriber: Subscriber) -> tuple[str, ...]:
    """Texts that are somebody's own, now or before, the longest first; the shortest say nothing."""
    found = [*subscriber.values.values()]
    for what in subscriber.facts.filter(kind=Fact.Kind.FIELD).values_list("what", flat=True):
        found += [what.get("before"), what.get("after")]
    names = (subscriber.values.get("first_name"), subscriber.values.get("last_name"))
    found.append(" ".join(str(one) for one in names if one))
    texts = {one for one in found if isinstance(one, str) and len(one) > 2}
    return tuple(sorted(texts, key=len, reverse=True))


def unmake_person(subscriber: Subscriber) -> None:
    """Remove the row of a person and what hangs on it; what they sent stays where it is. The
    caller has locked them."""
    with transaction.atomic():
        erase_evidence(list(subscriber.memberships.values_list("pk", flat=True)))
        subscriber.delete()


def apply_decision(
    ledger: Ledger,
    workspace: Workspace,
    subscriber: Subscriber | None,
    decision: Decision,
    submitted: Because,
    context: dict[str, Any],
    at: datetime,
    *,
    received: datetime | None = None,
    is_test: bool = False,
) -> Subscriber:
    """Enter into the ledger what was decided about a person.

    Sequences are not entered here. `submitted` is the because of the submission itself,
    `context` where it came from, for the evidence, `received` when it was received.
    """
    is_new = subscriber is None
    if subscriber is None:
        assert decision.address is not None
        subscriber = instance(
            Subscriber,
            workspace_id=workspace.pk,
            address=decision.address,
            address_key=person_key(decision.address, is_test),
            added_at=at,
            is_test=is_test,
        )
        subscriber.workspace = workspace
        ledger.new.append(subscriber)
        ledger.facts.append(fact(subscriber, Fact.Kind.ADDED, {}, submitted, at))
    what: dict[str, Any] = {"source": submitted.source_name}
    source = submitted.source_id or ""
    ledger.facts.append(fact(subscriber, Fact.Kind.SUBMITTED, what, submitted, at, source))
    effects, asked_at = decision.effects, received or at
    apply_effects(ledger, subscriber, effects, context, at, is_new=is_new, received=asked_at)
    return subscriber


def apply_effects(
    ledger: Ledger,
    subscriber: Subscriber,
    effects: Sequence[Effect],
    context: dict[str, Any],
    at: datetime,
    *,
    is_new: bool = False,
    received: datetime | None = None,
) -> None:
    """Enter into the ledger what effects do to a person; `context` is where they come from,
    `received` when the person sent what they follow from."""
    for effect in effects:
        _carry_out(ledger, subscriber, effect, context, at, received or at)
    if is_new or any(isinstance(effect, SetField) for effect in effects):
        index(subscriber)
    changing = (SetField, Score, Owner, LeaveAllLists, SetZone)
    if not is_new and any(isinstance(effect, changing) for effect in effects):
        ledger.change(subscriber)


def _carry_out(
    ledger: Ledger,
    subscriber: Subscriber,
    effect: Effect,
    context: dict[str, Any],
    at: datetime,
    received: datetime,
) -> None:
    """Enter one effect on a person; sequences, sends and notices are for the rooms above."""

    def note(kind: Fact.Kind, what: dict[str, Any], about: str = "") -> None:
        ledger.facts.append(fact(subscriber, kind, what, effect.because, at, about))

    match effect:
        case SetField():
            if effect.after in ("", ()):
                subscriber.values.pop(effect.key, None)
            else:
                subscriber.values[effect.key] = effect.after
            note(Fact.Kind.FIELD, field_change(effect))
        case AddTag():
            note(Fact.Kind.TAG, {"tag": effect.name, "id": effect.tag})
            ledger.tag(_tagging(subscriber, effect, at))
        case RemoveTag():
            note(Fact.Kind.TAG, {"tag": effect.name, "id": effect.tag, "removed": True})
            ledger.untag(subscriber, effect.tag)
        case Score():
            subscriber.score = effect.after
            note(Fact.Kind.SCORE, {"before": effect.before, "after": effect.after})
        case Event():
            what: dict[str, Any] = {"event": effect.name}
            if effect.data:
                # Beside it as conditions compare it.
                what["data"] = dict(effect.data)
                what["folded"] = {name: folded(text) for name, text in effect.data.items()}
            note(Fact.Kind.EVENT, what, effect.name[:80])
        case Owner():
            subscriber.owner_id = UUID(effect.member)
            note(Fact.Kind.OWNER, {"member": effect.name})
        case Task():
            note(Fact.Kind.TASK, {"title": effect.title})
            ledger.tasks.append(_task(subscriber, effect, at))
        case TellMembers():
            note(Fact.Kind.TOLD, {"members": list(effect.names)})
        case SetZone():
            subscriber.time_zone = effect.after
            note(Fact.Kind.ZONE, {"before": effect.before, "after": effect.after})
        case LeaveAllLists():
            subscriber.left_all_at = max(received, subscriber.left_all_at or received)
        case Subscribe():
            row = _membership(ledger, subscriber, effect)
            move_membership(
                ledger,
                row,
                effect.name,
                effect.to,
                effect.because,
                at,
                effect.wording,
                context,
                received=received,
            )


def _task(subscriber: Subscriber, effect: Task, at: datetime) -> TaskRow:
    return TaskRow(
        workspace_id=subscriber.workspace_id,
        subscriber=subscriber,
        title=effect.title,
        member_id=subscriber.owner_id,
        made_at=at,
        due_at=at + timedelta(days=effect.days),
        **caused_by(subscriber.workspace_id, effect.because),
    )


def tags_by_name(workspace: Workspace, names: Iterable[str]) -> dict[str, str]:
    """Ids of the tags with these names, made where they are missing.

    In one order, by one statement: two workers that make the same tags never wait for each
    other in a circle.
    """
    by_folded: dict[str, str] = {}
    wanted = {name: folded(name) for name in names}
    for name, key in wanted.items():
        by_folded.setdefault(key, name)
    tags = Tag.objects.of(workspace)
    ids = dict(tags.filter(folded__in=by_folded).values_list("folded", "pk"))
    missing = [
        Tag(workspace=workspace, name=by_folded[key][:60], folded=key)
        for key in sorted(by_folded.keys() - ids.keys())
    ]
    if missing:
        Tag.everywhere.bulk_create(missing, ignore_conflicts=True)
        ids = dict(tags.filter(folded__in=by_folded).values_list("folded", "pk"))
        catalogue_changed(workspace)
    return {name: str(ids[key]) for name, key in wanted.items()}


@changes("finished a task")
def finish_task(task: TaskRow) -> None:
    """A task is done."""
    if task.done_at is None:
        task.done_at = clock.now(task.workspace)
        task.save(update_fields=["done_at"])


def field_change(effect: SetField) -> dict[str, Any]:
    """A change of a field, as the trail has it."""
    return {
        "field": effect.label,
        "key": effect.key,
        "before": effect.before,
        "after": effect.after,
        "shown_before": effect.shown_before,
        "shown": effect.shown,
    }


def _tagging(subscriber: Subscriber, effect: AddTag, at: datetime) -> Any:
    return plain(Tagging)(
        workspace_id=subscriber.workspace_id,
        subscriber_id=subscriber.pk,
        tag_id=UUID(effect.tag),
        at=at,
        **caused_by(subscriber.workspace_id, effect.because),
    )


def _membership(ledger: Ledger, subscriber: Subscriber, effect: Subscribe) -> Membership | Any:
    """The one row of the person on the list: stored, in the ledger already, or new."""
    entered = ledger.membership(subscriber, effect.list)
    if entered is not None:
        return entered
    if not subscriber._state.adding:
        for row in memberships_of(subscriber):
            if str(row.list_id) == effect.list:
                return row
    return plain(Membership)(
        workspace_id=subscriber.workspace_id,
        subscriber_id=subscriber.pk,
        list_id=UUID(effect.list),
        changed_at=None,
        cause=None,
    )


def move_membership(
    ledger: Ledger,
    row: Membership | Any,
    list_name: str,
    to: str,
    because: Because,
    at: datetime,
    wording: str,
    context: dict[str, Any],
    *,
    confirmed: bool = False,
    received: datetime | None = None,
) -> None:
    """Change a membership, with its evidence and its entry in the trail; `confirmed`: by the
    person themself, from their inbox; `received`: when what it follows from was received."""
    before = row.state or "none"
    ledger.enter_membership(row)
    row.state, row.changed_at, row.because = to, at, because
    if to in ("unsubscribed", "complained"):
        left = received or at
        row.left_at = max(left, row.left_at or left)
    ledger.evidence.append(
        plain(Evidence)(
            workspace_id=row.workspace_id,
            membership_id=row.pk,
            at=at,
            before=before,
            after=to,
            wording=wording,
            page=str(context.get("page", ""))[:2000],
            ip=context.get("ip"),
            because=because.as_json(),
            chain=row.pk,
            number=0,
            hash="",
        )
    )
    what = {"list": list_name, "id": str(row.list_id), "before": before, "after": to}
    about = str(row.list_id) if confirmed else ""
    kind, person = Fact.Kind.MEMBERSHIP, row.subscriber_id
    ledger.facts.append(_fact(row.workspace_id, person, kind, what, because, at, about))


def unsubscribe(
    subscriber: Subscriber,
    lists: QuerySet[MailingList] | None,
    because: Because,
    page: str,
    ip: str = "",
) -> list[str]:
    """Take the person off `lists` (None: all of theirs, and none they may yet be put on by what
    they sent before); the ids of the lists they left. The caller has locked the person.

    `ip`: where the request came from, kept as evidence where the workspace keeps addresses.
    """
    context = _seen_at(subscriber, page, ip)
    at = clock.now(subscriber.workspace)
    with transaction.atomic():
        rows = Membership.everywhere.filter(subscriber=subscriber)
        if lists is not None:
            rows = rows.filter(list__in=lists)
        else:
            Subscriber.everywhere.filter(pk=subscriber.pk).update(left_all_at=at)
        left = []
        ledger = Ledger()
        for row in rows.select_related("list", "subscriber"):
            to = consent.unsubscribe(row.state).to
            if to != row.state:
                move_membership(ledger, row, row.list.name, to, because, at, "", context)
                left.append(str(row.list_id))
        ledger.write()
        return left


def bounce_all(subscriber: Subscriber, because: Because) -> list[str]:
    """Emails to the address come back: it bounces on every list; the ids of those lists. The caller
    has locked the person, and has the transaction."""
    return _move_all(subscriber, because, consent.bounced)


def complain_all(subscriber: Subscriber, because: Because) -> list[str]:
    """They reported an email as spam: they complained on every list, and their address is suppressed;
    the ids of those lists. The caller has locked the person, and has the transaction."""
    suppress(subscriber.workspace, [subscriber.address], "reported an email as spam", None)
    return _move_all(subscriber, because, consent.complained)


def _move_all(
    subscriber: Subscriber,
    because: Because,
    move: Callable[[Any], consent.Transition],
) -> list[str]:
    at = clock.now(subscriber.workspace)
    rows = Membership.everywhere.filter(subscriber=subscriber)
    ledger = Ledger()
    moved = []
    for row in rows.select_related("list", "subscriber"):
        to = move(row.state).to  # type: ignore[arg-type]
        if to != row.state:
            move_membership(ledger, row, row.list.name, to, because, at, "", {})
            moved.append(str(row.list_id))
    ledger.write()
    return moved


def _seen_at(subscriber: Subscriber, page: str, ip: str) -> dict[str, Any]:
    """Where a person did something themself, as far as the workspace keeps it."""
    return {"page": page, "ip": ip if ip and subscriber.workspace.keeps_ip else None}


def opt_in(
    row: Membership, to: str, because: Because, wording: str, page: str, ip: str = ""
) -> None:
    """Move a locked membership because the person themself asked for it."""
    context = _seen_at(row.subscriber, page, ip)
    ledger = Ledger()
    at = clock.now(row.subscriber.workspace)
    move_membership(ledger, row, row.list.name, to, because, at, wording, context)
    ledger.write()


def confirm(
    membership: Membership, asked_at: datetime, wording: str, page: str, ip: str = ""
) -> tuple[bool, str]:
    """The person confirms a subscription, shown this wording; whether it changed, and why not where it
    did not."""
    now = clock.now(membership.workspace)
    with transaction.atomic():
        locked_person(person_of_membership(membership.pk))
        row = Membership.everywhere.select_related("list", "subscriber", "workspace").get(
            pk=membership.pk
        )
        left = consent.Left(this_list=row.left_at, every_list=row.subscriber.left_all_at)
        move = consent.confirm(row.state, asked_at, now, left)  # type: ignore[arg-type]
        if move.refused:
            return False, move.refused
        because = Because(
            kind="person", sentence="they confirmed it by the link in the email", own=True
        )
        ledger = Ledger()
        context = _seen_at(row.subscriber, page, ip)
        name = row.list.name
        move_membership(ledger, row, name, move.to, because, now, wording, context, confirmed=True)
        ledger.write()
        return True, ""


def person_of_membership(pk: UUID) -> Callable[[], UUID | None]:
    """Who has a membership, asked anew each time: a merge may give it to somebody else."""
    rows = Membership.everywhere.filter(pk=pk)
    return lambda: rows.values_list("subscriber_id", flat=True).first()


def fact(
    subscriber: Subscriber,
    kind: Fact.Kind,
    what: dict[str, Any],
    because: Because,
    at: datetime,
    about: str = "",
) -> Any:
    """An entry of the trail, for `store_all`."""
    return _fact(subscriber.workspace_id, subscriber.pk, kind, what, because, at, about)


def _fact(
    workspace_id: UUID,
    person: UUID,
    kind: Fact.Kind,
    what: dict[str, Any],
    because: Because,
    at: datetime,
    about: str,
) -> Any:
    return plain(Fact)(
        workspace_id=workspace_id,
        subscriber_id=person,
        at=at,
        kind=kind.value,
        about=about,
        what=what,
        **caused_by(workspace_id, because),
    )


def index(subscriber: Subscriber) -> None:
    """Set what is made from the values, after they changed: for search and for conditions."""
    names = (subscriber.values.get("first_name"), subscriber.values.get("last_name"))
    subscriber.searched = folded(
        " ".join([subscriber.address, *(str(name) for name in names if name)])
    )
    texts = {**subscriber.values, "email": subscriber.address}
    subscriber.folded = {
        key: folded(value) for key, value in texts.items() if isinstance(value, str) and value
    }
