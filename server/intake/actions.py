"""Making sources, turning their routes on, and taking a submission in and through."""

import secrets
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.utils.text import slugify

from core.documents import Finding
from core.folding import folded
from core.forms import Answers, Form, Question
from core.reading import ReadLine
from core.route_check import check_route
from core.routes import (
    Decision,
    RouteDocument,
    SubmissionFacts,
    decide,
    submitted_address,
)
from server.people.actions import find_by_address
from server.people.models import Field
from server.sequences.facts import catalogue_of, whole_person
from server.snags.actions import close, report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.documents import draft_of, make_live, save_draft
from server.workspaces.errors import Refused, refuse
from server.workspaces.models import Member, Workspace

from .arrivals import defer_again, store
from .models import RouteRevision, Source, Submission
from .open_forms import OpenForm, forget


def make_source(
    workspace: Workspace, name: str, member: Member | None = None, key: str = ""
) -> Source:
    """Make a form that asks for the address, mapped, as a draft."""
    name = " ".join(name.split())
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write what the form is for.")
    if Source.objects.of(workspace).filter(name__iexact=name).exists():
        raise refuse(
            "exists", "name", f"There is a source named “{name}” already.", "Choose another name."
        )
    with transaction.atomic():
        source = Source(
            workspace=workspace,
            name=name[:80],
            key=key or _public_key(name),
            created_at=clock.now(workspace),
        )
        source.save(force_insert=True)
        save_route_draft(source, _first_draft(workspace, name), 0, member)
    return source


def _public_key(name: str) -> str:
    readable = slugify(folded(name))[:40].strip("-") or "form"
    return f"{readable}-{secrets.token_hex(4)}"


def _first_draft(workspace: Workspace, name: str) -> RouteDocument:
    """An address is the least that a form asks; the rest is the specialist's to say."""
    email = Field.objects.of(workspace).get(key="email")
    question = Question(id="q1", name="email", type="email", label="Email", required=True)
    return RouteDocument(
        form=Form(title=name, button="Send it to me", questions=(question,)),
        read_as=(ReadLine(id="r1", question="email", field=str(email.pk)),),
    )


def save_route_draft(
    source: Source, document: RouteDocument, based_on: int, member: Member | None
) -> RouteRevision:
    """Save the draft of a route."""
    return save_draft(
        source.revisions.all(), {"source": source}, source.workspace, document, based_on, member
    )


def check(workspace: Workspace, document: RouteDocument) -> tuple[Finding, ...]:
    """Pre-flight of a route."""
    return check_route(document, catalogue_of(workspace))


def turn_on(source: Source, member: Member | None, note: str = "") -> RouteRevision:
    """Make the draft live, if pre-flight finds nothing that stops it."""
    with transaction.atomic():
        draft = draft_of(source.revisions.all())
        if draft is None:
            raise Refused("There is no draft to turn on.")
        findings = check(source.workspace, RouteDocument.model_validate(draft.document))
        stopping = tuple(one for one in findings if one.stops)
        if stopping:
            raise Refused("Pre-flight found what has to be mended first.", stopping)
        live = make_live(source.revisions.all(), source.workspace, member, note)
        source.state = Source.State.LIVE
        source.save(update_fields=["state"])
        forget(source)
        return live


def pause(source: Source) -> None:
    """Close the form; what came in already is still routed."""
    if source.state == Source.State.LIVE:
        source.state = Source.State.PAUSED
        source.save(update_fields=["state"])
        forget(source)


def resume(source: Source) -> None:
    """Open the form again."""
    if source.state == Source.State.PAUSED:
        source.state = Source.State.LIVE
        source.save(update_fields=["state"])
        forget(source)


@lru_cache(maxsize=512)
def route_of_revision(revision_id: str) -> RouteDocument:
    """The document of a revision that has been live, which never changes."""
    return RouteDocument.model_validate(RouteRevision.everywhere.get(pk=revision_id).document)


def receive(
    form: OpenForm,
    revision_id: str,
    answers: Answers,
    rendering: str,
    context: dict[str, Any],
) -> Submission | None:
    """Store a submission with the job that routes it, both or neither.

    `rendering` names one rendering of the form with these answers; a second post of it
    (a double click, a reload) stores nothing and gives None.
    """
    submission = Submission(
        workspace_id=form.workspace_id,
        source_id=form.source_id,
        revision_id=revision_id,
        answers=[list(pair) for pair in answers],
        context=context,
        rendering=rendering,
        received_at=form.now(),
    )
    return submission if store(submission) else None


def route_again(workspace: Workspace, snag: Snag) -> int:
    """Route again what the snag stopped, by the route of now; how many."""
    with transaction.atomic():
        stopped = list(Submission.objects.of(workspace).select_for_update().filter(snag=snag))
        for submission in stopped:
            submission.state, submission.snag = Submission.State.RECEIVED, None
            submission.save(update_fields=["state", "snag"])
            defer_again(submission)
        close(snag)
        return len(stopped)


def give_up(submission_id: str, reason: str) -> None:
    """A submission that cannot be routed, after some tries: it is stuck, and nothing is lost."""
    with transaction.atomic():
        submission = (
            Submission.everywhere.select_for_update(of=("self",))
            .select_related("workspace", "source")
            .get(pk=submission_id)
        )
        if submission.state == Submission.State.ROUTED:
            return
        submission.state = Submission.State.STUCK
        submission.snag = report(
            submission.workspace,
            Snag.About.SUBMISSION,
            f"{submission.source_id}/failed",
            f"{submission.source.name}: a submission could not be routed: {reason}.",
            "Route it again; if that fails too, the server's log holds the reason.",
            {"source": str(submission.source_id), "submission": str(submission.pk)},
        )
        submission.save(update_fields=["state", "snag"])


def sample(source: Source, document: RouteDocument, answers: Answers, now: datetime) -> Decision:
    """What `document` would make of `answers`, by the very rules that will run; nothing is kept."""
    catalogue = catalogue_of(source.workspace)
    facts = SubmissionFacts(source_id=str(source.pk), source_name=source.name, answers=answers)
    address = submitted_address(document, answers, catalogue)
    subscriber = find_by_address(source.workspace, address) if isinstance(address, str) else None
    person = whole_person(subscriber) if subscriber else None
    return decide(facts, document, person, catalogue, now)


def submission_facts(submission: Submission, revision: int | None) -> SubmissionFacts:
    """A submission, for the core."""
    return SubmissionFacts(
        source_id=str(submission.source_id),
        source_name=submission.source.name,
        submission_id=str(submission.pk),
        revision=revision,
        answers=tuple((name, text) for name, text in submission.answers),
    )
