"""Taking a submission in: stored with the job that routes it, both or neither."""

import secrets
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any
from uuid import UUID

from core.deciding import (
    RouteDocument,
    SubmissionFacts,
    context_answers,
    read_address,
    submitted_address,
)
from core.documents import Problem, clean, cleaned, near_miss
from core.reading import Answers, suspicion
from core.sources import KINDS
from core.values import read_email
from server.people.locks import person_key
from server.snags.actions import report
from server.snags.models import Snag
from server.sources.actions import route_of_revision, shown_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.sources.open_forms import RECENT, OpenForm
from server.workspaces import clock
from server.workspaces.copying import plain
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Member, Workspace
from server.workspaces.shapes import Json

from .arrivals import store
from .models import Submission

DRAFT_TRY = "a try: this source is not turned on yet"
"""Of what comes to a draft: kept to learn its names, shown, and never routed."""


_RECENT = timedelta(minutes=1)


def recent(opened: OpenForm) -> int:
    """How many came by a source in the last minute, counted at most once a second: a flood is noticed
    a second late, and no post counts the posts before it."""

    def count() -> int:
        since = opened.now() - _RECENT
        rows = Submission.everywhere.filter(source=opened.source_id, received_at__gt=since)
        return rows.count()

    return RECENT.get(opened.source_id, count) or 0


@dataclass(frozen=True)
class Arrival:
    """A submission as it came, with its idempotency key."""

    revision_id: str
    """The revision that the visitor was shown."""
    answers: Answers
    idempotency_key: str
    context: Json = field(default_factory=dict)
    signs: Json = field(default_factory=dict)
    visitor: str = ""
    raw: bytes | None = None
    raw_type: str = ""
    held: str = ""
    """Why it is kept and not routed, until a member lets it through."""


def receive(opened: OpenForm, arrival: Arrival) -> UUID | None:
    """Store a submission with the job that routes it, both or neither; its id.

    A second one of the same idempotency key (a double click, a reload, a row that was seen, a
    call that is repeated) stores nothing and gives None.
    """
    submission = plain(Submission)(
        workspace_id=opened.workspace_id,
        source_id=opened.source_id,
        shown_id=arrival.revision_id,
        person_key=_whose(opened, arrival),
        answers=[[clean(name), clean(text)] for name, text in arrival.answers],
        context=cleaned(arrival.context),
        signs=cleaned(arrival.signs),
        visitor=arrival.visitor,
        raw=arrival.raw,
        raw_type=clean(arrival.raw_type),
        idempotency_key=arrival.idempotency_key,
        received_at=opened.now(),
        is_test=opened.is_try,
    )
    held = arrival.held or (DRAFT_TRY if opened.is_draft else "")
    if held:
        submission.state, submission.held_because = Submission.State.HELD, held[:200]
    return submission.id if store(submission) else None


def _whose(opened: OpenForm, arrival: Arrival) -> str:
    """The key of the person as the sheet shown reads their address; empty where it reads none."""
    route = route_of_revision(arrival.revision_id)
    context = context_answers(arrival.context, opened.source_name, None)
    address = read_address(route, (*arrival.answers, *context), opened.email_field)
    return person_key(address, opened.is_try) if address else ""


def near_address(opened: OpenForm, route: RouteDocument, answers: Answers) -> str:
    """Of an own form or webhook without an address by its map: the sentence that says under which
    other name an address did come; empty where none did."""
    line = next((one for one in route.read_as if one.field == opened.email_field), None)
    wanted = line.question if line else ""
    with_address = [
        name for name, text in answers if isinstance(read_email(text), str) and "@" in text
    ]
    if not with_address:
        return ""
    meant = near_miss(wanted, with_address) or with_address[0]
    return f"No address came as “{wanted or 'email'}”, but “{meant}” holds one. Fix the map, then let it through."


def report_refused(opened: OpenForm, problem: Problem) -> None:
    """Count a post that was refused, so that its source's members learn of it too."""
    workspace = Workspace.objects.get(pk=opened.workspace_id)
    report(
        workspace,
        Snag.About.SHEET,
        f"{opened.source_id}/refused/{problem.code}",
        f"{opened.source_name}: a visitor's post was not taken: {problem.sentence} They were told.",
        problem.fix,
        {"source": str(opened.source_id)},
    )


def address_problem(opened: OpenForm, route: RouteDocument, answers: Answers) -> dict[str, Problem]:
    """Of an own form: the question whose answer gives no address, and why."""
    catalogue = full_catalogue(Workspace.objects.get(pk=opened.workspace_id))
    address = submitted_address(route, answers, catalogue)
    if isinstance(address, str):
        return {}
    line = next((one for one in route.read_as if one.id == address.place), None)
    if line is None:
        return {}
    return {line.question: address.model_copy(update={"place": line.question})}


@changes("sent a test through “{source.name}”")
def send_test(source: Source, answers: Answers, member: Member) -> Submission:
    """Send the sample the whole way, to the member's own inbox, as a test that never counts."""
    revision = shown_revision(source)
    route = RouteDocument.model_validate(revision.document)
    emails = {
        name
        for line in route.read_as
        if (target := full_catalogue(source.workspace).fields.get(line.field or ""))
        and target.type == "email"
        for name in (line.question, *line.also)
    }
    if not emails:
        raise refuse(
            "email_not_mapped",
            "read_as",
            "No question is mapped to the email address, so a test would reach nobody.",
            "Map the question that asks for the address to the field Email.",
        )
    own = tuple((name, text) for name, text in answers if name not in emails)
    submission = Submission(
        workspace=source.workspace,
        source=source,
        shown=revision,
        person_key=person_key(member.user.email, is_test=True),
        answers=[[name, member.user.email] for name in sorted(emails)] + [list(one) for one in own],
        context={"page": "tried on the sheet"},
        idempotency_key=f"test/{secrets.token_urlsafe(12)}",
        received_at=clock.now(source.workspace),
        is_test=True,
    )
    store(submission)
    return submission


def suspicion_of(signs: Json, **counts: int) -> str:
    """Why a post that came with these signs is held; empty: nothing speaks against it. `counts`: what is known
    of other posts (`core.reading.suspicion`)."""
    # Rows of before say "bait".
    honeypot = str(signs.get("honeypot") or signs.get("bait") or "")
    return suspicion(honeypot=honeypot, seconds=signs.get("seconds"), **counts)


def everything_of(submission: Submission, source: Source) -> Answers:
    """The answers of a submission, and its context as further ones."""
    context = context_answers(submission.context, source.name, submission.received_at)
    return (*((name, text) for name, text in submission.answers), *context)


def submission_facts(
    submission: Submission,
    source: Source,
    revision: int | None,
    stated: str | None = None,
    **known: Any,
) -> SubmissionFacts:
    """A submission of a source, for the core; `known`: further facts, by their names."""
    return SubmissionFacts(
        source_id=str(source.pk),
        source_name=source.name,
        submission_id=str(submission.pk),
        revision=revision,
        received=submission.received_at,
        browser_zone=str(submission.context.get("zone", "")),
        answers=tuple((name, text) for name, text in submission.answers),
        context=context_answers(submission.context, source.name, submission.received_at),
        own=KINDS[source.kind].own,
        stated_consent=stated,
        **known,
    )
