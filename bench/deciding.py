"""Counting people, deciding in the core alone, and looking at a replay."""

import base64
import json
import statistics
import time
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from django.db import connection

from core.conditions import FieldTest, Group, MembershipTest, TagTest
from core.deciding import (
    AddTags,
    ConsentLine,
    RouteDocument,
    Rule,
    SubmissionFacts,
    TagByAnswer,
    TagRow,
    decide,
)
from core.people import Catalogue, FieldFacts, Person
from core.reading import Form, Question, ReadLine
from core.values import Choice
from demo.people import FIRST, LAST
from server.audiences.query import audience_query
from server.config.gc_tuning import tune_gc
from server.imports import imports
from server.people.actions import make_tag
from server.people.models import Subscriber
from server.replays.models import Replay
from server.replays.replays import begin_replay, work_on
from server.routes.actions import turn_on
from server.sources.actions import make_source, route_of_revision, save_route_draft
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.workspaces import clock
from server.workspaces.models import Workspace
from server.workspaces.paging import page_by_key

from .crowd import COUNT, PEOPLE, make_crowd, parameters
from .files import put_in

ROUNDS = 5
REPLAYED = 10_000
DEPTH = 900_000


def audience_count() -> dict[str, Any]:
    """People who fit a condition of three parts, of a million, beside SQL written by hand."""
    workspace = Workspace.objects.get()
    names = make_crowd(workspace)
    condition = Group(
        of=(
            FieldTest(field=str(names.country.pk), op="is", value="PT"),
            TagTest(tag=str(names.tag.pk)),
            MembershipTest(list=str(names.news.pk), states=("subscribed",)),
        )
    )
    rows = audience_query(condition, workspace, full_catalogue(workspace), clock.now(workspace))

    def by_hand() -> int:
        with connection.cursor() as cursor:
            cursor.execute(COUNT, parameters(workspace, names))
            return int(cursor.fetchone()[0])

    if rows.count() != by_hand():
        raise RuntimeError("the two do not count the same people")
    compiled, written = _in_turns(rows.count, by_hand)
    return {
        "value": round(compiled, 3),
        "unit": "s",
        "limit": round(written, 3),
        "ratio": round(written / compiled, 2),
        "people": PEOPLE,
        "fit": by_hand(),
    }


def decisions() -> dict[str, Any]:
    """Submissions decided per second in the core alone, by a route of three lines and two rules."""
    fields = ("email", "first_name", "last_name")
    types = {"email": "email"}
    catalogue = Catalogue(
        fields={
            key: FieldFacts(id=key, key=key, label=key, type=types.get(key, "text"))  # type: ignore[arg-type]
            for key in fields
        },
        tags={"guide": "guide", "moon": "moon", "planets": "planets"},
        lists={"news": "News"},
    )
    looks = (Choice(key="moon", label="Moon"), Choice(key="planets", label="Planets"))
    route = RouteDocument(
        form=Form(
            questions=(
                Question(id="q1", name="email", type="email", label="Email"),
                Question(id="q2", name="look", type="choice", label="Look", choices=looks),
            )
        ),
        read_as=(
            ReadLine(id="r1", question="email", field="email"),
            ReadLine(id="r2", question="name", field="first_name", part="first", case_right=True),
            ReadLine(id="r3", question="name", field="last_name", part="last", case_right=True),
        ),
        consent=(ConsentLine(id="c1", list="news", wording="You get the news."),),
        then=(
            Rule(id="t1", action=AddTags(tags=("guide",))),
            Rule(
                id="t2",
                action=TagByAnswer(
                    question="look",
                    table=tuple(TagRow(choice=one.key, tags=(one.key,)) for one in looks),
                ),
            ),
        ),
    )
    facts = SubmissionFacts(
        source_id="source",
        source_name="Guide",
        answers=(("email", "ines@example.com"), ("name", "INES ALBA"), ("look", "planets")),
    )
    people = [
        Person(address="ines@example.com", tags=frozenset({"guide"}), score=number)
        for number in range(200)
    ]
    now = datetime(2026, 11, 25, tzinfo=UTC)
    count, started = 0, time.perf_counter()
    while time.perf_counter() - started < 5:
        for person in people:
            decide(facts, route, person, catalogue, now)
        count += 200
    rate = count / (time.perf_counter() - started)
    return {"value": round(rate, 1), "unit": "1/s", "limit": None, "ratio": None}


def replay_look(fresh: Callable[[], object]) -> dict[str, Any]:
    """A replay of ten thousand submissions looked at, each person changing; the aim is 10 s."""
    fresh()
    workspace = Workspace.objects.get()
    source = make_source(workspace, "File", None, key="bench-file", kind=Source.Kind.FILE)
    live = Source.everywhere.get(key="bench").revisions.get()
    route = route_of_revision(str(live.pk))
    save_route_draft(source, route, 1, None)
    _fill(source)
    other = make_tag(workspace, "other")
    changed = route.model_copy(
        update={"then": (Rule(id="t1", action=AddTags(tags=(str(other.pk),))),)}
    )
    save_route_draft(source, changed, None, None)
    turn_on(source, None)
    with connection.cursor() as cursor:
        cursor.execute("VACUUM ANALYZE")
    row = begin_replay(source, {}, ("removals",), None)
    # As the worker does, which carries this out.
    tune_gc()
    started = time.perf_counter()
    work_on(str(row.pk))
    seconds = time.perf_counter() - started
    row.refresh_from_db()
    if row.state != Replay.State.SEEN or row.counts["changed"] != REPLAYED:
        raise RuntimeError(f"the look found {row.counts}: {row.failure}")
    return {
        "value": round(seconds, 2),
        "unit": "s",
        "limit": 10.0,
        "ratio": round(10.0 / seconds, 2),
        "submissions": REPLAYED,
        "per_second": round(REPLAYED / seconds),
    }


def _fill(source: Source) -> None:
    # As many names as so many people have, roughly: some are common.
    names = [f"{first} {last}" for first in FIRST for last in LAST]
    lines = "".join(
        f"r{n}@example.com,{names[n * 7 % len(names)]},planets\r\n" for n in range(REPLAYED)
    )
    content = f"email,first_name,look\r\n{lines}".encode()
    imports.work_on(str(put_in(source, content).pk))


def people_page() -> dict[str, Any]:
    """A page of people behind the first 900,000 of a million, beside the first page."""
    workspace = Workspace.objects.get()
    make_crowd(workspace)
    rows = Subscriber.objects.of(workspace).filter(is_test=False)
    [edge] = rows.order_by("-added_at", "-pk")[DEPTH - 1 : DEPTH]
    # As one gets it who has turned so many pages.
    before = json.dumps([edge.added_at.isoformat(), str(edge.pk)])
    mark = base64.urlsafe_b64encode(before.encode()).decode()
    deep, first = _in_turns(
        lambda: page_by_key(rows, "added_at", mark), lambda: page_by_key(rows, "added_at", None)
    )
    if page_by_key(rows, "added_at", mark)[0][0].address != f"p{DEPTH + 1}@example.com":
        raise RuntimeError("that is another page")
    return {
        "value": round(deep * 1000, 2),
        "unit": "ms",
        "limit": round(first * 1000, 2),
        "ratio": round(deep / first, 2),
        "people": PEOPLE,
    }


def _in_turns(one: Callable[[], object], other: Callable[[], object]) -> tuple[float, float]:
    """Median seconds of both, in turns, after one turn that warms up."""
    taken: tuple[list[float], list[float]] = ([], [])
    for turn in range(ROUNDS + 1):
        for work, seconds in zip((one, other), taken, strict=True):
            started = time.perf_counter()
            work()
            if turn:
                seconds.append(time.perf_counter() - started)
    return statistics.median(taken[0]), statistics.median(taken[1])
