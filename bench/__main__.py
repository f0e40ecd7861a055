"""Measure: `./run bench`, or one of them by name. Each prints one line of JSON."""

import json
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from typing import Any

import django

django.setup()

from django.core.management import call_command  # noqa: E402
from django.db import connection  # noqa: E402

from core.deciding import AddTags, ConsentLine, RouteDocument, Rule  # noqa: E402
from core.reading import Form, Question, ReadLine  # noqa: E402
from server.people.actions import furnish, make_list, make_tag  # noqa: E402
from server.people.models import Field, Subscriber  # noqa: E402
from server.routes.actions import turn_on  # noqa: E402
from server.sources.actions import make_source, route_of_revision, save_route_draft  # noqa: E402
from server.sources.models import Source  # noqa: E402
from server.sources.tokens import new_rendering  # noqa: E402
from server.submissions.models import FileImport, Submission  # noqa: E402
from server.workspaces.actions import make_workspace  # noqa: E402
from server.workspaces.models import User, Workspace  # noqa: E402

from .broadcasts import broadcast_prepare, broadcast_send  # noqa: E402
from .deciding import audience_count, decisions, people_page, replay_look  # noqa: E402
from .files import put_in  # noqa: E402
from .floor import copy_seconds, size_of  # noqa: E402
from .load import post_for  # noqa: E402
from .presses import presses  # noqa: E402
from .routing import route  # noqa: E402
from .screens import first_paint, typing  # noqa: E402
from .sending import compose, send  # noqa: E402
from .sequences import advance_due, ahead, enter, rehearse_year  # noqa: E402
from .services import handoff, heard  # noqa: E402
from .streams import streams  # noqa: E402

PORT = int(os.environ.get("YALLA_PORT", "8400"))
CLIENTS = 8
ROUNDS = 5
SECONDS = 5.0
ROWS = 30_000
LONGEST = 1_200


def main(names: list[str]) -> int:
    """Measure what is named, or everything."""
    measures: dict[str, Callable[[], dict[str, Any]]] = {
        "accept": accept,
        "routed_p95": routed_p95,
        "route": lambda: route(_fresh_form),
        "import": import_rows,
        "decisions": decisions,
        "replay_look": lambda: replay_look(_fresh_form),
        "audience_count": audience_count,
        "people_page": people_page,
        "mixed": mixed,
        "advance": lambda: advance_due(_fresh_form),
        "enter": lambda: enter(_fresh_form),
        "rehearse": rehearse_year,
        "ahead": lambda: ahead(_fresh_form),
        "send": lambda: send(_fresh_form),
        "broadcast_prepare": lambda: broadcast_prepare(_fresh_form),
        "broadcast_send": lambda: broadcast_send(_fresh_form),
        "compose": compose,
        "handoff": lambda: handoff(_fresh_form),
        "heard": lambda: heard(_fresh_form),
        "typing": lambda: typing(_fresh_form),
        "first_paint": lambda: first_paint(_fresh_form),
        "streams": lambda: streams(_fresh_form),
        "presses": lambda: presses(_fresh_form),
    }
    unknown = set(names) - set(measures)
    if unknown:
        print(f"There is no bench {', '.join(sorted(unknown))}: {', '.join(measures)}")
        return 2
    _fresh()
    for name, measure in measures.items():
        if not names or name in names:
            print(json.dumps({"name": name, **measure()}), flush=True)
    return 0


def accept() -> dict[str, Any]:
    """Submissions accepted per second, stored, beside a bare view that inserts one row.

    Both in turns, so that what the machine does meanwhile weighs on both alike; no worker
    runs, since the bare view has none to compete with.
    """
    path, revision = _form()
    bare, taken = [], []
    for turn in range(ROUNDS + 1):
        _, bare_rate = post_for(PORT, "/bench/insert", _bodies(revision, turn), SECONDS, CLIENTS)
        stored = Submission.everywhere.count()
        count, rate = post_for(PORT, path, _bodies(revision, turn), SECONDS, CLIENTS)
        if Submission.everywhere.count() - stored != count:
            raise RuntimeError("what was accepted is not what was stored")
        if turn:
            bare.append(bare_rate)
            taken.append(rate)
    limit, value = statistics.median(bare), statistics.median(taken)
    return {
        "value": round(value, 1),
        "unit": "1/s",
        "limit": round(limit, 1),
        "ratio": round(value / limit, 2),
    }


def routed_p95() -> dict[str, Any]:
    """Accepted to fully routed at half the accepted rate, with one worker."""
    path, revision = _form()
    rate = post_for(PORT, path, _bodies(revision, 90), SECONDS, CLIENTS)[1] / 2
    _fresh()
    path, revision = _form()
    worker = subprocess.Popen([sys.executable, "manage.py", "worker"])
    try:
        time.sleep(4)
        count, _ = post_for(PORT, path, _bodies(revision, 91), 20, CLIENTS, rate)
        deadline = time.monotonic() + 300
        while Submission.everywhere.filter(state="received").exists():
            if time.monotonic() > deadline:
                break
            time.sleep(0.2)
    finally:
        worker.terminate()
        worker.wait()
    waits = sorted(
        (routed - received).total_seconds()
        for received, routed in Submission.everywhere.exclude(routed_at=None).values_list(
            "received_at", "routed_at"
        )
    )
    return {
        "value": round(waits[int(len(waits) * 0.95)], 3),
        "unit": "s",
        "limit": None,
        "ratio": None,
        "median": round(statistics.median(waits), 3),
        "rate": round(rate, 1),
        "accepted": count,
        "lost": count - len(waits),
        "people": Subscriber.everywhere.count(),
    }


def import_rows() -> dict[str, Any]:
    """Rows of a file imported, mapped and routed per second by one worker, beside COPY of the rows
    that it leaves in all tables; then the same people with other names, and two files by two workers.
    What it does to live posts is measured by `mixed`."""
    _fresh()
    _form()
    source = _files()
    seconds, megabytes, row = _imported(source, _file(ROWS))
    rate, copied = ROWS / seconds, ROWS / copy_seconds()
    people = Subscriber.everywhere.count()
    bytes_each = size_of() / people
    again, _, updated = _imported(source, _file(ROWS, first="UNA"))
    files = [put_in(source, _file(ROWS, prefix=name)) for name in ("s", "t")]
    workers = [_worker(one) for one in files]
    timings = [json.loads(one.communicate(timeout=LONGEST)[0]) for one in workers]
    two = 2 * ROWS / max(each for each, _ in timings)
    if Subscriber.everywhere.count() != people + 2 * ROWS:
        raise RuntimeError("two workers did not put in what two files hold")
    return {
        "value": round(rate, 1),
        "unit": "1/s",
        "limit": round(copied, 1),
        "ratio": round(rate / copied, 4),
        "rows": row.counts.get("new", 0),
        "peak_mb": round(megabytes),
        "bytes_per_person": round(bytes_each),
        "updated": round(updated.counts.get("updated", 0) / again, 1),
        "two_workers": round(two / rate, 2),
    }


def _imported(source: Source, content: bytes) -> tuple[float, float, FileImport]:
    """A file put in by one worker: its seconds, its peak of memory in MB, and what came of it."""
    row = put_in(source, content)
    timings, _ = _worker(row).communicate(timeout=LONGEST)
    seconds, megabytes = json.loads(timings)
    row.refresh_from_db()
    return seconds, megabytes, row


def _worker(row: FileImport) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "bench.work", str(row.pk)], stdout=subprocess.PIPE
    )


def mixed() -> dict[str, Any]:
    """Accepted to fully routed (95th percentile, seconds) at fifty submissions a second, while a
    file is put in; its limit is the same without the file, in the same run. How long the posts
    take to be answered is told beside it."""
    _fresh()
    path, revision = _form()
    source, content = _files(), _file(50_000)
    workers = [subprocess.Popen([sys.executable, "manage.py", "worker", "live"])]
    try:
        time.sleep(4)
        answers: dict[str, list[float]] = {"quiet": [], "busy": []}
        quiet = _routed_of(path, revision, 80, answers["quiet"])
        row = put_in(source, content)
        workers.append(
            subprocess.Popen(["nice", "-n", "10", sys.executable, "manage.py", "worker", "bulk"])
        )
        deadline = time.monotonic() + 60
        while not Submission.everywhere.filter(source=source).exists():
            if time.monotonic() > deadline:
                raise RuntimeError("the file never began")
            time.sleep(0.1)
        before = Submission.everywhere.filter(source=source).count()
        busy = _routed_of(path, revision, 81, answers["busy"])
        put = Submission.everywhere.filter(source=source).count() - before
        row.refresh_from_db()
    finally:
        for worker in workers:
            worker.terminate()
        for worker in workers:
            worker.wait()
    return {
        "value": round(_p95(busy), 3),
        "unit": "s",
        "limit": round(_p95(quiet), 3),
        "ratio": round(_p95(busy) / _p95(quiet), 2),
        "median": round(statistics.median(busy), 3),
        "median_quiet": round(statistics.median(quiet), 3),
        "post_p95_ms": round(_p95(answers["busy"]) * 1000),
        "post_p95_ms_quiet": round(_p95(answers["quiet"]) * 1000),
        "rows_meanwhile": put,
        "file_still_running": row.state == "running",
    }


def _routed_of(path: str, revision: str, turn: int, answers: list[float]) -> list[float]:
    """How long each of some submissions took to be routed, in seconds; all of them are. Into
    `answers` goes how long each post took."""
    count, _ = post_for(PORT, path, _bodies(revision, turn), 20, CLIENTS, 50, answers)
    mine = Submission.everywhere.filter(source__key="bench", answers__0__1__startswith=f"p{turn}-")
    deadline = time.monotonic() + 120
    while mine.exclude(routed_at=None).count() < count:
        if time.monotonic() > deadline:
            raise RuntimeError("some were not routed")
        time.sleep(0.5)
    return [
        (routed - received).total_seconds()
        for received, routed in mine.values_list("received_at", "routed_at")
    ]


def _files() -> Source:
    """A source of files by the form's route."""
    source = make_source(
        Workspace.objects.get(), "File", None, key="bench-file", kind=Source.Kind.FILE
    )
    route = route_of_revision(str(Source.everywhere.get(key="bench").revisions.get().pk))
    save_route_draft(source, route, 1, None)
    return source


def _file(rows: int, prefix: str = "r", first: str = "INES") -> bytes:
    """A file of that many people, each with a surname of their own."""
    lines = "".join(
        f"{prefix}{n}@example.com,{first} {_letters(n).upper()},I look at planets\r\n"
        for n in range(rows)
    )
    return f"email,first_name,look\r\n{lines}".encode()


def _letters(number: int) -> str:
    """A surname of its own for each number."""
    found = ""
    while number or len(found) < 4:
        number, digit = divmod(number, 20)
        found += "bcdfghjklmnpqrstvwxz"[digit] + "aeiou"[digit % 5]
    return found


def _p95(waits: list[float]) -> float:
    return sorted(waits)[int(len(waits) * 0.95)] if waits else 0.0


def _bodies(revision: str, turn: int) -> Any:
    """Posts, each of a rendering of its own that was shown a while ago."""

    def body(number: int) -> dict[str, str]:
        return {
            "_rendering": new_rendering(revision, time.time() - 20),
            "email": f"p{turn}-{number}@example.com",
            "first_name": "INES",
            "look": "I look at planets, mostly",
        }

    return body


def _form() -> tuple[str, str]:
    """The path of the form, and the id of its live revision."""
    source = Source.everywhere.get(key="bench")
    return f"/f/{source.key}", str(source.revisions.get(state="live").pk)


def _fresh_form() -> tuple[str, str]:
    _fresh()
    return _form()


def _fresh() -> None:
    """An empty workspace with one form that is turned on."""
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM procrastinate_jobs")
        cursor.execute(
            "CREATE TABLE IF NOT EXISTS bench_row (id uuid PRIMARY KEY, at timestamptz, body jsonb)"
        )
        # The web of the bench stores into it, as the role that serves.
        cursor.execute("GRANT ALL ON bench_row TO PUBLIC")
        # Evidence refuses to be truncated, but for the owner who says so.
        cursor.execute("SET session_replication_role = replica")
    call_command("flush", interactive=False, verbosity=0)
    with connection.cursor() as cursor:
        cursor.execute("SET session_replication_role = origin")
    user = User.objects.create_user("bench@example.com")
    workspace = make_workspace("Bench", user)
    furnish(workspace)
    news, tag = make_list(workspace, "News"), make_tag(workspace, "guide")
    fields = {one.key: str(one.pk) for one in Field.objects.of(workspace)}
    source = make_source(workspace, "Bench", None, key="bench")
    document = RouteDocument(
        form=Form(
            title="Bench",
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(id="q2", name="first_name", type="name", label="First name"),
                Question(id="q3", name="look", type="text", label="What do you look at?"),
            ),
        ),
        read_as=(
            ReadLine(id="r1", question="email", field=fields["email"]),
            ReadLine(id="r2", question="first_name", field=fields["first_name"], case_right=True),
        ),
        consent=(ConsentLine(id="c1", list=str(news.pk), wording="You get the news."),),
        then=(Rule(id="t1", action=AddTags(tags=(str(tag.pk),))),),
    )
    save_route_draft(source, document, 1, None)
    turn_on(source, None)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
