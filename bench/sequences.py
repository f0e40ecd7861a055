"""Sequences under load: due runs that go on, people who enter by a member's door, a year rehearsed."""

import os
import subprocess
import sys
import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.db import connection
from django.utils import timezone

from core.conditions import Group, TagTest
from core.deciding import AddTags
from core.delivering import Duration, SendingTimes
from core.documents import Because
from core.messages import simple_message
from core.people import Person
from core.sequences import (
    ActStep,
    Journey,
    Lane,
    SendStep,
    SequenceDocument,
    SplitBranch,
    SplitStep,
    WaitStep,
    Way,
    rehearse,
)
from server.config.gc_tuning import tune_gc
from server.doors.by_hand import admit, let_all_in
from server.mail.editing import make_message, save_message
from server.people.actions import make_tag
from server.people.models import MailingList, Membership, Subscriber
from server.sequences import actions as sequences
from server.sequences.ahead import look_ahead
from server.sequences.going_on import advance_due_runs
from server.sequences.models import Run, Sequence, SequenceRevision
from server.workspaces.actions import set_up
from server.workspaces.causes import caused_by
from server.workspaces.copying import plain, store_all
from server.workspaces.ids import new_id
from server.workspaces.models import Workspace

from .floor import copy_seconds

DUE = int(os.environ.get("YALLA_BENCH_DUE", "100000"))
AHEAD = int(os.environ.get("YALLA_BENCH_AHEAD", "50000"))
ENTERING = int(os.environ.get("YALLA_BENCH_ENTERING", "50000"))
_BARE = """
WITH claimed AS (
    SELECT id FROM sequences_run
    WHERE workspace_id = %s AND ended_at IS NULL AND due_at <= now() AND step = 'w'
    ORDER BY due_at LIMIT 500 FOR UPDATE SKIP LOCKED
)
UPDATE sequences_run AS run SET due_at = now() + interval '9 days', step = 'x'
FROM claimed WHERE run.id = claimed.id
"""
_WHY = Because(kind="member", sentence="bench")


def advance_due(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Due runs (split, tag, send, wait) taken on per second by one worker and by two; the limit is a
    bare claim of the same rows by `UPDATE … SKIP LOCKED`. Beside it, what COPY takes for the rows that
    they leave."""
    bare = _rate(fresh, _claim_bare)
    two = _rate(fresh, lambda: _together(2))
    one = _rate(fresh, lambda: advance_due_runs(None))
    left = ("sequences_run", "sequences_visit", "people_tagging", "people_fact", "mail_send")
    copied = DUE / copy_seconds(left)
    return {
        "value": round(one, 1),
        "unit": "1/s",
        "limit": round(bare, 1),
        "ratio": round(one / bare, 3),
        "two_workers": round(two / one, 2),
        "copy_of_rows": round(copied, 1),
        "ratio_to_copy": round(one / copied, 3),
        "runs": DUE,
    }


def enter(fresh: Callable[[], Any]) -> dict[str, Any]:
    """People entered per second by a member's door; the limit is COPY of the rows they leave."""
    _, sequence, _ = _world(fresh, ENTERING)
    row = let_all_in(sequence, Group(), None, ENTERING, None)
    started = time.perf_counter()
    admit(str(row.pk))
    rate = ENTERING / (time.perf_counter() - started)
    tables = ("sequences_run", "sequences_visit", "people_tagging", "people_fact", "mail_send")
    limit = ENTERING / copy_seconds(tables)
    row.refresh_from_db()
    if row.entered != ENTERING:
        raise SystemExit(f"{row.entered} of {ENTERING} entered")
    return {
        "value": round(rate, 1),
        "unit": "1/s",
        "limit": round(limit, 1),
        "ratio": round(rate / limit, 3),
        "people": ENTERING,
    }


def ahead(fresh: Callable[[], Any]) -> dict[str, Any]:
    """The next thirty days of everybody under way, in seconds; the limit is a minute for 50,000 people."""
    workspace, sequence, revision = _world(fresh, AHEAD)
    _stand(sequence, revision)
    # As in the worker that does it.
    tune_gc()
    started = time.perf_counter()
    found = look_ahead(workspace)
    seconds = time.perf_counter() - started
    emails = sum(one["count"] for day in found.content["days"] for one in day["emails"])
    if (found.people, emails) != (AHEAD, 2 * AHEAD):
        raise SystemExit(f"{found.people} people with {emails} emails instead of two each")
    limit = 60.0 * AHEAD / 50_000
    return {
        "value": round(seconds, 1),
        "unit": "s",
        "limit": limit,
        "ratio": round(seconds / limit, 2),
        "people": AHEAD,
    }


def rehearse_year() -> dict[str, Any]:
    """A year of daily emails rehearsed for one person, in seconds; the limit is one second."""
    steps: list[Any] = []
    for day in range(365):
        steps.append(SendStep(id=f"s{day}", message="m"))
        steps.append(WaitStep(id=f"w{day}", duration=Duration(amount=1, unit="days")))
    document = SequenceDocument(
        list="l",
        lanes=(Lane(id="a", steps=tuple(steps)),),
        times=SendingTimes(weekdays=(1, 2, 3, 4, 5, 6), holidays_of="GB"),
    )
    person = Person(
        address="a@b.example", memberships={"l": "subscribed"}, time_zone="Europe/London"
    )
    start = timezone.now()
    rehearse(document, "a", person, start, Journey(entered_at=start))
    begun = time.perf_counter()
    found = rehearse(document, "a", person, start, Journey(entered_at=start))
    seconds = time.perf_counter() - begun
    emails = sum(one.kind == "sends" for one in found.entries)
    return {
        "value": round(seconds, 3),
        "unit": "s",
        "limit": 1.0,
        "ratio": round(seconds, 3),
        "emails": emails,
    }


def _rate(fresh: Callable[[], Any], act: Callable[[], Any]) -> float:
    _, sequence, revision = _world(fresh, DUE)
    _stand(sequence, revision)
    # As in the worker that does it.
    tune_gc()
    started = time.perf_counter()
    act()
    seconds = time.perf_counter() - started
    left = Run.everywhere.filter(ended_at=None, due_at__lte=timezone.now()).count()
    if left:
        raise SystemExit(f"{left} runs are still due")
    return DUE / seconds


def _claim_bare() -> None:
    workspace = Workspace.objects.get()
    while True:
        with connection.cursor() as cursor:
            cursor.execute(_BARE, [workspace.pk])
            if not cursor.rowcount:
                return


def _together(count: int) -> None:
    code = (
        "import django; django.setup(); from server.sequences.going_on import advance_due_runs; "
        "from server.config.gc_tuning import tune_gc; tune_gc(); "
        "import sys; print('ready', flush=True); sys.stdin.readline(); advance_due_runs(None)"
    )
    running = [
        subprocess.Popen(
            [sys.executable, "-c", code], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )
        for _ in range(count)
    ]
    for one in running:
        assert one.stdout is not None
        one.stdout.readline()
    for one in running:
        assert one.stdin is not None
        one.stdin.write("go\n")
        one.stdin.flush()
    for one in running:
        if one.wait():
            raise SystemExit("a worker failed")


def _world(fresh: Callable[[], Any], count: int) -> tuple[Workspace, Sequence, SequenceRevision]:
    """So many subscribers, and a live sequence: a wait, a split, a tag, an email, a wait."""
    fresh()
    workspace = Workspace.objects.get()
    set_up(
        workspace,
        name="Bench",
        time_zone="Europe/London",
        sender_name="Bench",
        sender_address="hello@larkmoor.example",
        postal_address="1 Dome Road",
        keeps_ip=False,
    )
    news = MailingList.objects.of(workspace).get()
    people = [
        plain(Subscriber)(
            id=new_id(),
            workspace_id=workspace.pk,
            address=f"p{number}@example.com",
            address_key=f"p{number}@example.com",
            added_at=timezone.now(),
            values={"first_name": "Ines"},
            searched=f"p{number}@example.com",
        )
        for number in range(count)
    ]
    store_all(people)
    store_all(
        [
            plain(Membership)(
                workspace_id=workspace.pk,
                subscriber_id=one.id,
                list_id=news.pk,
                state="subscribed",
                changed_at=timezone.now(),
                **caused_by(workspace.pk, _WHY),
            )
            for one in people
        ]
    )
    message = make_message(workspace, "Which one fits", None)
    save_message(message, simple_message("x", body="<p>Hello</p>"), None, None)
    tags = [str(make_tag(workspace, name).pk) for name in ("has", "gets")]
    when = Group(of=(TagTest(tag=tags[0]),))
    steps = (
        WaitStep(id="w", duration=Duration(amount=1, unit="days")),
        SplitStep(id="p", of=(SplitBranch(id="y", when=when, way=Way(to="end")),)),
        ActStep(id="t", action=AddTags(tags=(tags[1],))),
        SendStep(id="s", message=str(message.pk)),
        WaitStep(id="v", duration=Duration(amount=9, unit="days")),
        SendStep(id="z", message=str(message.pk)),
    )
    sequence = sequences.make_sequence(workspace, "First telescope")
    document = SequenceDocument(
        list=str(news.pk), again="once_only", lanes=(Lane(id="a", steps=steps),)
    )
    sequences.save_sequence_draft(sequence, document, 1, None)
    revision = sequences.turn_on(sequence, None)
    sequence.workspace = Workspace.objects.get()
    return sequence.workspace, sequence, revision


def _stand(sequence: Sequence, revision: SequenceRevision) -> None:
    """Everybody stands at the first wait, which is over."""
    now = timezone.now()
    people = Subscriber.everywhere.values_list("pk", flat=True)
    because = caused_by(sequence.workspace_id, _WHY)
    store_all(
        [
            plain(Run)(
                workspace_id=sequence.workspace_id,
                sequence_id=sequence.pk,
                subscriber_id=one,
                revision_id=revision.pk,
                lane="a",
                step="w",
                came_at=now - timedelta(days=1),
                due_at=now,
                entered_at=now - timedelta(days=1),
                **because,
            )
            for one in people
        ]
    )
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")
