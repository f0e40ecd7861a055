"""Everybody whom a broadcast concerns, with what is known of each: read in one statement, and decided by
`core.broadcasts.place_of`, for one person, for a group of them and for everybody."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property, lru_cache, reduce
from operator import and_
from typing import Any
from uuid import UUID

from django.db import connection
from django.db.models import (
    Case,
    CharField,
    Exists,
    F,
    Func,
    Max,
    OuterRef,
    Q,
    QuerySet,
    Subquery,
    TextField,
    Value,
    When,
)
from django.db.models.expressions import Combinable
from django.db.models.functions import Coalesce

from core.broadcasts import BroadcastDocument, Goes, Known, Place, Plan, Why, by_hour, place_of
from core.conditions import Condition, Group, leaves
from core.messages import MessageDocument, parts_by_reader
from core.people import Catalogue
from server.audiences.query import whom_it_fits
from server.mail.deciding import gap_of, marketing, times_of
from server.mail.models import Message, Send, live_document
from server.mail.sandbox import needed
from server.people.models import Membership, Subscriber, Suppression
from server.sequences.models import Run, SequenceRevision
from server.workspaces.models import Revision, Workspace

from .catalogue import conditions_of, whole_catalogue
from .models import Broadcast

_NOBODYS = ("none", "unsubscribed")
"""Memberships of those who are not counted among the people of a list."""
_LONGEST_GAP = 366
_NOBODY = Q(pk__in=[])
FACTS = (
    "membership",
    "suppressed",
    "lacks",
    "less",
    "busy",
    "recent",
    "got_it",
    "hole",
    "time_zone",
    "gap_days",
    "last_at",
)
"""The columns of what is known of a person, in the order of `Known`."""


@dataclass(frozen=True)
class Person:
    """Somebody with what becomes of them."""

    pk: UUID
    place: Place
    domain: str = ""


@dataclass
class Counted:
    """How many get a broadcast, and when; how many are left out, and why."""

    gets: int = 0
    left_out: Counter[tuple[Why, str]] = field(default_factory=Counter)
    """By reason and what it is about."""
    moved: Counter[str] = field(default_factory=Counter)
    """By what moves them."""
    next_day: int = 0
    moments: Counter[datetime] = field(default_factory=Counter)

    def add(self, place: Place, people: int) -> None:
        """So many people with whom it is so."""
        if not isinstance(place, Goes):
            self.left_out[place.why, place.about] += people
            return
        self.gets += people
        self.moments[place.at] += people
        self.next_day += people if place.next_day else 0
        for why in dict.fromkeys(one.by for one in place.moves):
            self.moved[why] += people

    @property
    def hours(self) -> dict[datetime, int]:
        """How many are due within each hour."""
        return by_hour(self.moments.items())


class Recipients:
    """The people of a broadcast, as its document says it, if it begins at `start`."""

    def __init__(
        self,
        workspace: Workspace,
        broadcast: UUID | None,
        document: BroadcastDocument,
        now: datetime,
        start: datetime,
    ) -> None:
        self.workspace, self.broadcast, self.document, self.now = (
            workspace,
            broadcast,
            document,
            now,
        )
        self.plan = Plan(
            when=document.when,
            list=document.to.list,
            start=start,
            zone=workspace.time_zone,
            times=times_of(workspace),
            gap=gap_of(workspace),
        )
        self._places: dict[tuple[Any, ...], Place] = {}

    @cached_property
    def catalogue(self) -> Catalogue:
        """What exists in the workspace."""
        return whole_catalogue(self.workspace)

    @cached_property
    def parts(self) -> tuple[Condition, ...]:
        """What has to hold, part by part."""
        only = self.document.to.only
        return only.of if only.kind == "all" else (only,)

    def place(self, facts: tuple[Any, ...]) -> Place:
        """What becomes of somebody of whom this is known; the same for all of whom it is."""
        found = self._places.get(facts)
        if found is None:
            if len(self._places) > 100_000:
                self._places.clear()
            membership, suppressed, lacks, less, busy, recent, got_it, hole, zone, gap, last = facts
            known = Known(
                membership=membership,
                suppressed=suppressed,
                lacks=lacks,
                less=less,
                busy=busy,
                recent=recent,
                got_it=got_it,
                hole=hole,
                zone=zone,
                gap_days=gap,
                last_marketing_at=last,
            )
            found = self._places[facts] = place_of(known, self.plan)
        return found

    def counted(self) -> Counted:
        """How many there are of each kind: one statement that gives a row for each kind of person."""
        found = Counted()
        if self.document.to.list is None:
            return found
        inner, values = self._rows().values_list(*FACTS).query.sql_with_params()
        names = ", ".join(f"f{number}" for number in range(len(FACTS)))
        statement = f"SELECT {names}, count(*) FROM ({inner}) AS one ({names}) GROUP BY {names}"
        with connection.cursor() as cursor:
            cursor.execute(statement, values)
            for *facts, people in cursor.fetchall():
                found.add(self.place(tuple(facts)), people)
        return found

    def everybody(self, *, domains: bool = False, after: UUID | None = None) -> Iterator[Person]:
        """Everybody with what becomes of them, by their ids from `after` on."""
        if self.document.to.list is None:
            return
        rows = self._rows().order_by("pk")
        if after:
            rows = rows.filter(pk__gt=after)
        columns = ("pk", *(("domain",) if domains else ()), *FACTS)
        if domains:
            rows = rows.annotate(domain=_domain(F("address_key")))
        for pk, *facts in rows.values_list(*columns).iterator(chunk_size=2_000):
            domain = facts.pop(0) if domains else ""
            yield Person(pk, self.place(tuple(facts)), domain)

    def one(self, person: UUID) -> Place | None:
        """What becomes of one person; None: it does not concern them."""
        if self.document.to.list is None:
            return None
        facts = self._rows().filter(pk=person).values_list(*FACTS).first()
        return None if facts is None else self.place(tuple(facts))

    def _rows(self) -> QuerySet[Subscriber]:
        rows = self._concerned()
        to = self.document.to
        domain = _domain(OuterRef("address_key"))
        suppressions = Suppression.objects.of(self.workspace)
        suppressed = suppressions.filter(Q(key=OuterRef("address_key")) | Q(key=domain))
        busy = Exists(_theirs(Run, self.workspace).filter(sequence__in=self._busy, ended_at=None))
        recent = marketing(self.workspace).filter(subscriber=OuterRef("pk"))
        if to.less_recent_days:
            recent = recent.filter(sent_at__gt=self.now - timedelta(days=to.less_recent_days))
        got = _theirs(Send, self.workspace).filter(broadcast=self.broadcast)
        return rows.annotate(
            membership=Coalesce(self._membership(), Value("none"), output_field=CharField()),
            suppressed=Exists(suppressed),
            lacks=self._lacks(),
            less=self._less(),
            busy=busy if to.less_busy and self._busy else Value(False),
            recent=Exists(recent) if to.less_recent_days else Value(False),
            got_it=Exists(got) if self.broadcast else Value(False),
            hole=self._hole(),
            last_at=self._last(),
        )

    def _concerned(self) -> QuerySet[Subscriber]:
        """Whom it is about: those of the audiences, or of the list."""
        rows: QuerySet[Subscriber] = Subscriber.objects.of(self.workspace).filter(is_test=False)
        to = self.document.to
        if to.audiences:
            within = Q(pk__in=[])
            for who in conditions_of(self.workspace, to.audiences).values():
                within |= self._fits(who)
            rows = rows.filter(within)
        else:
            on_list = Membership.objects.of(self.workspace).filter(list=to.list)
            rows = rows.filter(pk__in=on_list.exclude(state__in=_NOBODYS).values("subscriber"))
        if to.again_of:
            first = _theirs(Send, self.workspace).filter(broadcast=to.again_of, state="sent")
            rows = rows.filter(Exists(first.filter(opened_at=None, clicked_at=None)))
        return rows

    def _fits(self, condition: Condition) -> Q:
        return whom_it_fits(condition, self.workspace, self.catalogue, self.now)

    def _membership(self) -> Subquery:
        rows = _theirs(Membership, self.workspace).filter(list=self.document.to.list)
        return Subquery(rows.values("state")[:1])

    def _lacks(self) -> Combinable:
        whens = [
            When(~self._fits(part), then=Value(str(number)))
            for number, part in enumerate(self.parts)
            if any(leaves(part)) or not isinstance(part, Group)
        ]
        return _first_of(whens)

    def _less(self) -> Combinable:
        to = self.document.to
        audiences = conditions_of(self.workspace, to.less_audiences)
        whens = [When(self._fits(who), then=Value(pk)) for pk, who in audiences.items()]
        if any(leaves(to.less)):
            whens.append(When(self._fits(to.less), then=Value("less")))
        return _first_of(whens)

    @cached_property
    def _busy(self) -> list[UUID]:
        """The sequences that want those who are under way in them left alone."""
        live = SequenceRevision.objects.of(self.workspace).filter(
            state=Revision.State.LIVE, document__no_broadcasts=True
        )
        return list(live.values_list("sequence", flat=True))

    def _hole(self) -> Combinable:
        whens = []
        for key, shown in self._needed().items():
            lacking = Q(**{f"values__{key}__isnull": True}) | Q(**{f"values__{key}": ""})
            whens.append(When(lacking & shown if shown is not None else lacking, then=Value(key)))
        return _first_of(whens)

    def _needed(self) -> dict[str, Q | None]:
        """The fields that the letters need, by key: of whom (None: of everybody)."""
        found: dict[str, Q | None] = {}
        ids = {one.message for one in self.document.versions if one.message}
        fields = {one.key for one in self.catalogue.fields.values()} - {"email"}
        rows = Message.objects.of(self.workspace).filter(
            pk__in=ids & self.catalogue.messages.keys()
        )
        documents = {str(row.pk): live_document(row) for row in rows}
        for one in self.document.versions:
            document = documents.get(one.message or "")
            if document is None:
                continue
            if one.subject:
                document = document.model_copy(update={"subject": one.subject})
            for keys, conditions in _needed_by(document):
                shown = reduce(and_, map(self._fits, conditions)) if conditions else None
                for key in keys & fields:
                    before = found.get(key, _NOBODY)
                    found[key] = None if shown is None or before is None else before | shown
        return dict(sorted(found.items()))

    def _last(self) -> Combinable:
        """When they were last sent marketing, where a gap could still ask for something."""
        workspace = self.workspace
        own = Subscriber.objects.of(workspace).aggregate(most=Max("gap_days"))["most"] or 0
        days = min(max(own, workspace.email_gap_days), _LONGEST_GAP)
        if not days:
            return Value(None, output_field=Send._meta.get_field("sent_at"))
        at = Coalesce("sent_at", "handed_at")
        rows = marketing(workspace).filter(subscriber=OuterRef("pk")).alias(gone=at)
        rows = rows.filter(gone__gt=self.plan.start - timedelta(days=days + 1))
        last = rows.order_by().values("subscriber").annotate(last=Max(at)).values("last")
        return Subquery(last)


@lru_cache(maxsize=128)
def _needed_by(document: MessageDocument) -> tuple[tuple[frozenset[str], tuple[Group, ...]], ...]:
    """The tokens without a fallback of each part of a letter, and for whom the part is."""
    return tuple(
        (frozenset(needed(part)), conditions) for part, conditions in parts_by_reader(document)
    )


def _first_of(whens: list[When]) -> Combinable:
    nothing = Value("", output_field=TextField())
    return Case(*whens, default=nothing, output_field=TextField()) if whens else nothing


def _domain(key: Combinable) -> Func:
    return Func(key, Value("@"), Value(-1), function="split_part", output_field=TextField())


def _theirs(model: Any, workspace: Workspace) -> Any:
    return model.objects.of(workspace).filter(subscriber=OuterRef("pk"))


def recipients_of(
    broadcast: Broadcast, document: BroadcastDocument, now: datetime, start: datetime
) -> Recipients:
    """The people of a broadcast."""
    return Recipients(broadcast.workspace, broadcast.pk, document, now, start)
