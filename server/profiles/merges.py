"""Two people who are one: merged by the rules of `core.merging`, and undone for a day.

The one who goes is removed; everything that hangs on them moves to the one who is kept. For a
day the rows that had to be removed, and the names of those that were moved, stay with the merge.
"""

from collections.abc import Iterable
from datetime import datetime, timedelta
from uuid import UUID

from django.core import serializers
from django.core.serializers.json import DjangoJSONEncoder
from django.db import transaction
from django.db.models import Model, QuerySet

from core.deciding import field_set
from core.delivering import sources_of
from core.documents import Because
from core.people import Person
from core.people import unsubscribe as leave_list
from core.profiles import Merging, merge
from core.values import Kept, address_key
from server.mail.jobs import DELIVER
from server.mail.life import queue_again, withdraw
from server.mail.models import Send
from server.people.addresses import forget_former, remember_address
from server.people.chain import move_evidence
from server.people.effects import field_change, index
from server.people.ledger import Ledger
from server.people.locks import locked_people
from server.people.memberships import move_membership
from server.people.models import (
    Evidence,
    Fact,
    FrozenMember,
    Membership,
    Merge,
    Subscriber,
    Tagging,
)
from server.people.suppression import suppress, suppressed_among
from server.people.trail import fact
from server.replays.redeciding import loaded
from server.sequences.models import Run, Visit
from server.sequences.people import people_of
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace
from server.workspaces.personal import moving
from server.workspaces.scoping import WorkspaceRow
from server.workspaces.shapes import Json

UNDONE_FOR = timedelta(days=1)


def preview_merge(kept: Subscriber, gone: Subscriber, chosen: frozenset[str]) -> Merging:
    """What a merge would come to; nothing changes."""
    _may_merge(kept, gone)
    one, other = _persons(kept, gone)
    return merge(one, other, full_catalogue(kept.workspace), chosen)


@changes("merged two people")
def merge_people(
    kept: Subscriber, gone: Subscriber, chosen: frozenset[str], because: Because
) -> Merge:
    """Put `gone` into `kept`; `chosen`: keys of the fields whose value of `gone` stays."""
    _may_merge(kept, gone)
    workspace = kept.workspace
    with transaction.atomic():
        locked_people(workspace, [(kept.address, False), (gone.address, False)])
        # As they are now, under the lock, in the one order that nobody else reverses.
        ids = sorted([kept.pk, gone.pk])
        there = list(Subscriber.everywhere.select_for_update().filter(pk__in=ids).order_by("pk"))
        if len(there) < len(ids):
            raise Refused("One of the two is not there any more.")
        one, other = _persons(kept, gone)
        plan = merge(one, other, full_catalogue(workspace), chosen)
        kept, gone = next(
            (first, second)
            for first in loaded(workspace, [kept.pk])
            for second in loaded(workspace, [gone.pk])
        )
        return _Merging(kept, gone, plan, because).carry_out()


def _may_merge(kept: Subscriber, gone: Subscriber) -> None:
    if kept.pk == gone.pk:
        raise refuse("same", "other", "These are one person already.", "Choose another one.")
    if kept.is_test != gone.is_test:
        raise refuse("test", "other", "Somebody made by a test stays apart.", "Choose another one.")


def _persons(kept: Subscriber, gone: Subscriber) -> tuple[Person, Person]:
    rows = loaded(kept.workspace, [kept.pk, gone.pk])
    found = people_of(rows, kept.workspace, history=False)
    return found[kept.pk], found[gone.pk]


class _Exact(DjangoJSONEncoder):
    """Times to the microsecond, as they were."""

    def default(self, value: object) -> object:
        return value.isoformat() if isinstance(value, datetime) else super().default(value)


class _Merging:
    """One merge as it is carried out, with what its undoing needs."""

    def __init__(self, kept: Subscriber, gone: Subscriber, plan: Merging, because: Because) -> None:
        self.kept, self.gone, self.plan, self.because = kept, gone, plan, because
        self.workspace: Workspace = kept.workspace
        self.now = clock.now(kept.workspace)
        self.removed: list[Model] = [gone]
        self.moved: dict[str, list[str]] = {}
        self.before: Json = {
            "owner": str(kept.owner_id) if kept.owner_id else None,
            "gap_days": kept.gap_days,
            "uncounted": kept.uncounted,
            "time_zone": kept.time_zone,
            "added_at": kept.added_at.isoformat(),
            "states": {},
            "moved_states": {},
            "withdrawn": [],
            "evidence": {},
        }
        self.ledger = Ledger()

    def carry_out(self) -> Merge:
        """Everything, in the caller's transaction."""
        suppressed = suppressed_among(self.workspace, [self.gone.address])
        self._runs()
        self._tags()
        self._groups()
        self._memberships()
        self._broadcasts()
        for model in moving():
            self._move(model, model.everywhere.filter(subscriber=self.gone))
        self._values()
        self._tell()
        self.ledger.write()
        # The serialised rows are those as they are now, the moved ones no longer among them.
        restore = {
            "rows": serializers.serialize("json", self.removed, cls=_Exact),
            "moved": self.moved,
            "before": self.before,
            "gone": str(self.gone.pk),
        }
        made = Merge.everywhere.create(
            workspace=self.workspace,
            kept=self.kept,
            gone_address=self.gone.address,
            at=self.now,
            until=self.now + UNDONE_FOR,
            because=self.because.as_json(),
            restore=restore,
        )
        remember_address(self.kept, self.gone.address, self.gone.added_at, self.now)
        self.gone.delete()
        if suppressed:
            suppress(self.workspace, [self.kept.address], "merged with a suppressed address", None)
        return made

    def _move(self, model: type[WorkspaceRow], rows: QuerySet[WorkspaceRow]) -> None:
        ids = [str(pk) for pk in rows.values_list("pk", flat=True)]
        if ids:
            self.moved.setdefault(model._meta.label, []).extend(ids)
            model.everywhere.filter(pk__in=ids).update(subscriber=self.kept)

    def _runs(self) -> None:
        for sequence, outcome in self.plan.runs.items():
            runs = Run.everywhere.filter(sequence=sequence)
            theirs, mine = runs.filter(subscriber=self.gone), runs.filter(subscriber=self.kept)
            if outcome == "moves":
                self._move(Run, theirs)
                continue
            leaving = list(mine if outcome == "replaces" else theirs)
            self.removed += leaving
            self.removed += Visit.everywhere.filter(run__in=leaving)
            for run in leaving:
                self._withdraw(run)
            if outcome == "replaces":
                # By their keys, so that the rows here stay whole for the undoing.
                Run.everywhere.filter(pk__in=[one.pk for one in leaving]).delete()
                self._move(Run, theirs)

    def _withdraw(self, run: Run) -> None:
        """What waits of a run that ends, or gives way to another one, does not go out."""
        waiting = Send.everywhere.filter(
            subscriber=run.subscriber_id,
            by_run=run.pk,
            state__in=sources_of("withdrawn", "rules"),
        )
        self.before["withdrawn"] += [str(pk) for pk in waiting.values_list("pk", flat=True)]
        withdraw(waiting, "its run ended when two people were merged")

    def _broadcasts(self) -> None:
        """Nobody gets a broadcast twice, since they were two when it was prepared."""
        mine = Send.everywhere.filter(subscriber=self.kept, broadcast__isnull=False)
        mine = mine.exclude(state=Send.State.WITHDRAWN)
        waiting = Send.everywhere.filter(
            subscriber=self.gone,
            broadcast__in=mine.values("broadcast"),
            state__in=sources_of("withdrawn", "rules"),
        )
        self.before["withdrawn"] += [str(pk) for pk in waiting.values_list("pk", flat=True)]
        withdraw(waiting, "they get this broadcast at the address that was kept")

    def _tags(self) -> None:
        have = {one.tag_id for one in self.kept.taggings.all()}
        theirs = list(self.gone.taggings.all())
        self.removed += [one for one in theirs if one.tag_id in have]
        free = [one.pk for one in theirs if one.tag_id not in have]
        self._move(Tagging, Tagging.everywhere.filter(pk__in=free))

    def _groups(self) -> None:
        have = {one.group_id for one in self.kept.groups.all()}
        theirs = list(self.gone.groups.all())
        self.removed += [one for one in theirs if one.group_id in have]
        free = [one.pk for one in theirs if one.group_id not in have]
        self._move(FrozenMember, FrozenMember.everywhere.filter(pk__in=free))

    def _memberships(self) -> None:
        mine = {str(one.list_id): one for one in self.kept.memberships.all()}
        names = full_catalogue(self.workspace).lists
        for row in list(self.gone.memberships.all()):
            key = str(row.list_id)
            if key not in mine:
                self._move(Membership, Membership.everywhere.filter(pk=row.pk))
                to = self.plan.memberships[key]
                if to != row.state:
                    # What it says of the address that goes is not said of the kept one.
                    self.before["moved_states"][key] = row.state
                    row.subscriber = self.kept
                    name = names.get(key, "")
                    move_membership(self.ledger, row, name, to, self.because, self.now, "", {})
                continue
            own = mine[key]
            proofs = Evidence.everywhere.filter(membership=row)
            ids = [str(pk) for pk in proofs.values_list("pk", flat=True)]
            self.before["evidence"][str(row.pk)] = ids
            move_evidence(ids, own.pk)
            lefts = [one.left_at for one in (own, row) if one.left_at]
            own.left_at = max(lefts, default=None)
            self.removed.append(row)
            to = self.plan.memberships[key]
            if to != own.state:
                self.before["states"][key] = own.state
                name = names.get(key, "")
                move_membership(self.ledger, own, name, to, self.because, self.now, "", {})

    def _values(self) -> None:
        kept, plan = self.kept, self.plan
        fields = full_catalogue(self.workspace).fields
        for field in fields.values():
            before, after = kept.values.get(field.key), plan.values.get(field.key)
            stored = list(after) if isinstance(after, tuple) else after
            if stored == before or after is None:
                continue
            kept.values[field.key] = stored
            change = field_set(field, _kept(before), after, self.because)
            self._note(Fact.Kind.FIELD, field_change(change))
        if plan.score != kept.score:
            self._note(Fact.Kind.SCORE, {"before": kept.score, "after": plan.score})
        kept.score = plan.score
        kept.owner_id = UUID(plan.owner) if plan.owner else None
        kept.gap_days = max(kept.gap_days, self.gone.gap_days)
        # Whoever did not want to be counted under one address does not under the other.
        kept.uncounted = kept.uncounted or self.gone.uncounted
        kept.time_zone = kept.time_zone or self.gone.time_zone
        kept.added_at = min(kept.added_at, self.gone.added_at)
        lefts = [one.left_all_at for one in (kept, self.gone) if one.left_all_at]
        kept.left_all_at = max(lefts, default=None)
        index(kept)
        kept.save()

    def _tell(self) -> None:
        self._note(Fact.Kind.MERGED, {"address": self.gone.address})

    def _note(self, kind: Fact.Kind, what: Json) -> None:
        self.ledger.facts.append(fact(self.kept, kind, what, self.because, self.now))


def _kept(value: Kept | list[str] | None) -> Kept | None:
    return tuple(value) if isinstance(value, list) else value


def merges_of(person: Subscriber) -> list[Merge]:
    """Merges into this person that can still be undone."""
    rows = Merge.objects.of(person.workspace).filter(
        kept=person, undone_at=None, until__gt=clock.now(person.workspace)
    )
    return list(rows.exclude(restore={}).order_by("-at"))


@changes("undid a merge of two people")
def undo_merge(row: Merge, because: Because) -> Subscriber:
    """Part the two again: the one who was removed, as they are now."""
    workspace = row.workspace
    now = clock.now(workspace)
    with transaction.atomic():
        row = Merge.everywhere.select_for_update().get(pk=row.pk)
        row.workspace = workspace
        if row.undone_at is not None or not row.restore or now >= row.until:
            raise Refused("A merge can be undone for a day, and once.")
        locked_people(workspace, [(row.kept.address, False), (row.gone_address, False)])
        taken = Subscriber.objects.of(workspace).filter(address_key=address_key(row.gone_address))
        if taken.exists():
            raise Refused(
                f"Somebody has the address {row.gone_address} by now. Merge them, or change that "
                "address, then undo."
            )
        later = Merge.everywhere.filter(kept=row.kept, at__gt=row.at, undone_at=None)
        if later.exclude(restore={}).exists():
            raise Refused("Undo the later merge first.")
        return _part(row, because)


def _part(row: Merge, because: Because) -> Subscriber:
    restore, now = row.restore, clock.now(row.workspace)
    before = restore["before"]
    [kept] = loaded(row.workspace, [row.kept_id])
    for one in serializers.deserialize("json", restore["rows"]):
        if isinstance(one.object, Run) and one.object.subscriber_id == row.kept_id:
            # A run of the kept one comes back once the other's has gone back.
            continue
        one.save(force_insert=True)
    gone = Subscriber.everywhere.get(pk=restore["gone"])
    gone.workspace = row.workspace
    models: list[type[WorkspaceRow]] = [*moving(), Tagging, FrozenMember, Membership, Run]
    for model in models:
        ids = restore["moved"].get(model._meta.label, ())
        model.everywhere.filter(pk__in=ids, subscriber=kept).update(subscriber=gone)
    for one in serializers.deserialize("json", restore["rows"]):
        if isinstance(one.object, Run) and one.object.subscriber_id == row.kept_id:
            one.save(force_insert=True)
    for membership, ids in before["evidence"].items():
        move_evidence(ids, membership)
    ledger = Ledger()
    _states_back(ledger, row, kept, gone, before["states"], because)
    _moved_states_back(ledger, row, gone, before.get("moved_states", {}), because)
    _values_back(row, kept, before)
    for person in (kept, gone):
        what = {"address": gone.address if person is kept else kept.address, "undone": True}
        ledger.facts.append(fact(person, Fact.Kind.MERGED, what, because, now))
    ledger.write()
    forget_former(kept, gone.address)
    _queue_again(before["withdrawn"])
    row.undone_at, row.restore, row.gone_address = now, {}, ""
    row.save(update_fields=["undone_at", "restore", "gone_address"])
    return gone


def _states_back(
    ledger: Ledger,
    row: Merge,
    kept: Subscriber,
    gone: Subscriber,
    states: dict[str, str],
    because: Because,
) -> None:
    """States of lists as they were, but that whoever has left since has left under both."""
    names = full_catalogue(row.workspace).lists
    now = clock.now(row.workspace)
    theirs = {str(one.list_id): one for one in Membership.everywhere.filter(subscriber=gone)}
    for own in Membership.everywhere.filter(subscriber=kept).select_related("subscriber"):
        key = str(own.list_id)
        name = names.get(key, "")
        if key in states and own.changed_at == row.at:
            move_membership(ledger, own, name, states[key], because, now, "", {})
        left_since = own.changed_at > row.at and own.state in ("unsubscribed", "complained")
        other = theirs.get(key)
        if left_since and other is not None and leave_list(other.state).to != other.state:  # type: ignore[arg-type]
            other.subscriber = gone
            move_membership(ledger, other, name, leave_list(other.state).to, because, now, "", {})  # type: ignore[arg-type]


def _moved_states_back(
    ledger: Ledger, row: Merge, gone: Subscriber, states: dict[str, str], because: Because
) -> None:
    """States that were said of the address that went, and are said of it again."""
    names = full_catalogue(row.workspace).lists
    now = clock.now(row.workspace)
    theirs = Membership.everywhere.filter(subscriber=gone, changed_at=row.at)
    for one in theirs.select_related("subscriber"):
        key = str(one.list_id)
        if key in states:
            name = names.get(key, "")
            move_membership(ledger, one, name, states[key], because, now, "", {})


def _values_back(row: Merge, kept: Subscriber, before: Json) -> None:
    """Values that the merge set and nothing has changed since, the score, and the rest."""
    merged = Fact.everywhere.filter(subscriber=kept, at=row.at)
    for one in merged.filter(kind__in=(Fact.Kind.FIELD, Fact.Kind.SCORE)):
        if one.kind == Fact.Kind.SCORE:
            kept.score -= int(one.what["after"]) - int(one.what["before"])
            continue
        key = one.what["key"]
        if kept.values.get(key) != one.what["after"]:
            continue
        if one.what["before"] in (None, "", []):
            kept.values.pop(key, None)
        else:
            kept.values[key] = one.what["before"]
    kept.owner_id = UUID(before["owner"]) if before["owner"] else None
    kept.gap_days, kept.time_zone = before["gap_days"], before["time_zone"]
    # A merge of before there was anything to count has not kept it.
    kept.uncounted = before.get("uncounted", kept.uncounted)
    kept.added_at = before["added_at"]
    index(kept)
    kept.save()


def _queue_again(sends: Iterable[str]) -> None:
    rows = list(Send.everywhere.select_for_update().filter(pk__in=list(sends)).order_by("pk"))
    workspaces = {one.workspace_id for one in queue_again(rows, "rules")}
    for one in workspaces:
        DELIVER.defer(workspace_id=str(one))


def forget_merges(workspace: Workspace) -> int:
    """Let go of what the undoing of merges needed, once their day is over; how many."""
    over = Merge.objects.of(workspace).filter(until__lte=clock.now(workspace))
    return int(over.exclude(restore={}).update(restore={}, gone_address=""))
