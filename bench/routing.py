"""Submissions of a form that tags, subscribes and starts a sequence, routed by workers."""

from collections.abc import Callable
from typing import Any

from django.utils import timezone

from core.deciding import RouteDocument, Rule, StartSequence
from core.delivering import Duration
from core.messages import simple_message
from core.sequences import Lane, SendStep, SequenceDocument, WaitStep
from server.mail.editing import make_message, save_message
from server.people.models import MailingList
from server.routes.actions import turn_on
from server.sequences import actions as sequences
from server.sources.actions import save_route_draft, shown_revision
from server.sources.models import Source
from server.submissions.arrivals import store
from server.submissions.models import Submission
from server.workspaces.actions import set_up
from server.workspaces.models import Workspace

from .floor import copy_seconds
from .workers import done_per_second

COUNT = 6_000


def route(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Routed per second by one worker, and by two; the limit is COPY of the rows that they leave."""
    one = _rate(fresh, 1)
    floor = COUNT / copy_seconds()
    two = _rate(fresh, 2)
    return {
        "value": round(one, 1),
        "unit": "1/s",
        "limit": round(floor, 1),
        "ratio": round(one / floor, 3),
        "two_workers": round(two / one, 2),
    }


def _rate(fresh: Callable[[], Any], workers: int) -> float:
    fresh()
    source = _with_sequence(Workspace.objects.get())
    live = source.revisions.get(state="live")
    now = timezone.now()
    for number in range(COUNT):
        answers = [
            ["email", f"p{number}@example.com"],
            ["first_name", "INES"],
            ["look", "I look at planets, mostly"],
        ]
        store(
            Submission(
                workspace=source.workspace,
                source=source,
                shown=live,
                person_key=f"p{number}@example.com",
                answers=answers,
                idempotency_key=f"bench/{number}",
                received_at=now,
            )
        )
    return done_per_second(Submission.everywhere.exclude(routed_at=None), COUNT, workers)


def _with_sequence(workspace: Workspace) -> Source:
    """The form of the bench, with a rule that starts a sequence."""
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
    message = make_message(workspace, "Which one fits", None)
    save_message(message, simple_message("x", body="<p>Hello</p>"), None, None)
    sequence = sequences.make_sequence(workspace, "First telescope")
    steps = (
        WaitStep(id="w", duration=Duration(amount=1, unit="days")),
        SendStep(id="s", message=str(message.pk)),
    )
    lane = Lane(id="a", steps=steps)
    document = SequenceDocument(list=str(news.pk), lanes=(lane,))
    sequences.save_sequence_draft(sequence, document, 1, None)
    sequences.turn_on(sequence, None)
    source = Source.everywhere.select_related("workspace").get(key="bench")
    route_document = RouteDocument.model_validate(shown_revision(source).document)
    rule = Rule(id="t2", action=StartSequence(sequence=str(sequence.pk)))
    draft = route_document.model_copy(update={"then": (*route_document.then, rule)})
    save_route_draft(source, draft, None, None)
    turn_on(source, None)
    return source
