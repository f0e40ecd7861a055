"""People handed to a stand-in that answers in 5 ms, beside bare httpx with as many requests at once; and
events that a service told, taken in."""

import os
import subprocess
import sys
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
from django.conf import settings
from django.utils import timezone

from core.documents import Because
from core.services import Call, FarLine, Handover, KeySignIn, Operation, ServiceDescription
from launch.postgres import free_port
from server.connections.hearing import store_events, take_heard
from server.people.models import Fact, Field
from server.services.connecting import connect, set_secrets
from server.services.described import shipped
from server.services.handing import AT_ONCE
from server.services.models import Handoff
from server.services.outbox import Handoffs
from server.workspaces.models import Workspace

from .crowd import some_people
from .workers import done_per_second

COUNT = 3_000
EVENTS = 10_000


def handoff(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Handoffs per second by one worker; the limit is httpx, with as many requests at once."""
    port = free_port()
    standin = subprocess.Popen([sys.executable, "-m", "bench.standin", str(port)])
    os.environ["YALLA_FETCH_HOSTS"] = f"127.0.0.1:{port}"
    settings.FETCH_HOSTS = [f"127.0.0.1:{port}"]
    try:
        time.sleep(1)
        floor = _bare(port)
        fresh()
        _queue(port)
        rate = done_per_second(Handoff.everywhere.filter(state="done"), COUNT, 1)
    finally:
        standin.terminate()
        standin.wait()
    return {
        "value": round(rate, 1),
        "unit": "1/s",
        "limit": round(floor, 1),
        "ratio": round(rate / floor, 3),
    }


def _queue(port: int) -> None:
    workspace = Workspace.objects.get()
    described = ServiceDescription(
        name="Stand-in",
        base=f"http://127.0.0.1:{port}",
        sign_in=KeySignIn(name="X-Key"),
        who=Call(method="POST"),
        fixed_fields=shipped()["webhook"].fixed_fields,
        operations=(
            Operation(
                key="save",
                does="save_person",
                label="Save",
                call=Call(
                    method="POST",
                    path="/people",
                    body={"email": "{{ address }}", "fields": "{{ person }}"},
                ),
                id="person.id",
            ),
        ),
    )
    row = connect(workspace, "Stand-in", "", described)
    set_secrets(row, {"key": "a-key-for-benches"})
    fields = {one.key: str(one.pk) for one in Field.objects.of(workspace)}
    lines = (
        FarLine(id="1", to="email", what=fields["email"]),
        FarLine(id="2", to="first_name", what=fields["first_name"]),
    )
    handover = Handover(service=str(row.pk), operation="save", lines=lines)
    handoffs = Handoffs()
    because = Because(kind="member", sentence="a bench")
    for person in some_people(workspace, COUNT):
        handoffs.add_row(
            person,
            row.pk,
            handover,
            f"bench/{person.pk}",
            timezone.now(),
            because,
            operation="Save",
        )
    handoffs.write()


def _bare(port: int) -> float:
    """The same bodies by httpx alone."""
    with httpx.Client(trust_env=False) as client, ThreadPoolExecutor(AT_ONCE) as pool:

        def one(number: int) -> None:
            address = f"p{number}@example.com"
            body = {"email": address, "fields": {"email": address, "first_name": f"Ines {number}"}}
            client.post(f"http://127.0.0.1:{port}/people", json=body).raise_for_status()

        began = time.perf_counter()
        list(pool.map(one, range(COUNT)))
        return COUNT / (time.perf_counter() - began)


def heard(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Events per second taken in, of people who are known, by one worker."""
    fresh()
    workspace = Workspace.objects.get()
    with_outside = settings.OUTSIDE_ADDRESS or "http://127.0.0.1:9"
    settings.OUTSIDE_ADDRESS = with_outside
    row = connect(workspace, "Shop", "", shipped()["telescope-shop"])
    some_people(workspace, 2_000)
    events = [
        {
            "id": f"e{number}",
            "type": "order.paid",
            "timestamp": "2026-01-02T10:00:00Z",
            "data": {"email": f"p{number % 2_000}@example.com", "product": "Torch", "amount": "14"},
        }
        for number in range(EVENTS)
    ]
    began = time.perf_counter()
    for first in range(0, EVENTS, 100):
        part = events[first : first + 100]
        store_events(row, [(str(one["id"]), "order.paid", one) for one in part])
    take_heard(workspace.pk)
    rate = EVENTS / (time.perf_counter() - began)
    if Fact.everywhere.filter(kind="event").count() != EVENTS:
        raise RuntimeError("what was told is not what was taken")
    return {"value": round(rate, 1), "unit": "1/s", "limit": None, "ratio": None}
