"""Webhooks in: JSON of another program, signed or sent to a secret address, as a submission.

Signatures by the Standard Webhooks specification (headers webhook-id, webhook-timestamp,
webhook-signature).
"""

import hashlib
import secrets
from uuid import UUID

from django.conf import settings
from django.http import HttpRequest, JsonResponse
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods
from standardwebhooks import Webhook
from standardwebhooks.webhooks import EmptyWebhookSecretError, WebhookVerificationError

from core.documents import Problem, clean
from core.reading import Answers, answers_of
from server.sources.actions import route_of_revision
from server.sources.models import Source
from server.sources.open_forms import OpenForm, open_form
from server.submissions.receiving import Arrival, address_problem, near_address, receive, recent
from server.workspaces import clock
from server.workspaces.models import Workspace
from server.workspaces.sealing import opened as unsealed
from server.workspaces.shapes import Json

from .models import Call

KEPT_CALLS = 50
_HEADERS = ("content-type", "user-agent", "webhook-id", "webhook-timestamp", "webhook-signature")


@csrf_exempt
@require_http_methods(["POST"])
def hook(request: HttpRequest, key: str) -> JsonResponse:
    """Take a call: 202 when it is stored, 200 when it was stored before."""
    source = Source.everywhere.select_related("workspace").filter(key=key, kind="webhook").first()
    if source is None:
        return JsonResponse({"title": "No webhook has this address."}, status=404)
    limit = settings.LARGEST_PUBLIC_BODY
    if int(request.META.get("CONTENT_LENGTH") or 0) > limit:
        return _log(source, request, b"", 413, "The body is larger than 64 KB.")
    body = request.body
    if source.secret and not _is_signed(source, request, body):
        outcome = "The signature does not fit the body, or the call is older than five minutes."
        return _log(source, request, body, 401, outcome)
    form = open_form(key)
    if form is None:
        return _log(source, request, body, 409, "This webhook is not turned on.")
    if recent(form) > settings.POSTS_PER_MINUTE:
        return _log(source, request, body, 429, "Too many calls in the last minute.")
    answers = answers_of(body)
    if isinstance(answers, Problem):
        return _log(source, request, body, 422, f"{answers.sentence} {answers.fix}")
    route = route_of_revision(form.revision_id)
    without = not form.is_draft and address_problem(form, route, answers)
    held = near_address(form, route, answers) if without else ""
    submission = _store(form, request, body, answers, held)
    if submission is None:
        return _log(source, request, body, 200, "This call was taken before.")
    outcome = "Kept as a test: this webhook is not turned on yet." if form.is_draft else "Taken."
    return _log(source, request, body, 202, outcome, submission)


def _store(
    form: OpenForm, request: HttpRequest, body: bytes, answers: Answers, held: str = ""
) -> UUID | None:
    # A sender that is not answered in time sends again, with the same id.
    # Its digest is enough to know it again, and says nothing of whom it may name.
    given = request.headers.get("webhook-id", "") or secrets.token_urlsafe(16)
    call_id = hashlib.sha256(given.encode()).hexdigest()[:40]
    return receive(
        form,
        Arrival(
            revision_id=form.revision_id,
            answers=tuple((name[:200], text[:20_000]) for name, text in answers),
            idempotency_key=f"call/{call_id}",
            context={"page": f"/hook/{form.source_name}"},
            raw=body,
            raw_type=request.headers.get("Content-Type", "")[:200],
            held=held,
        ),
    )


def _is_signed(source: Source, request: HttpRequest, body: bytes) -> bool:
    secret = unsealed(source.secret)
    if not secret:
        return False
    headers = {name: request.headers.get(name, "") for name in _HEADERS[2:]}
    try:
        # What the body holds is looked at afterwards; every failure to verify is a refusal.
        Webhook(secret).verify(body, headers, json_parse=False)
    except (WebhookVerificationError, EmptyWebhookSecretError, ValueError, TypeError):
        return False
    return True


def _log(
    source: Source,
    request: HttpRequest,
    body: bytes,
    status: int,
    outcome: str,
    submission: UUID | None = None,
) -> JsonResponse:
    """Keep the call for the sheet, the newest ones of each source, and answer."""
    headers: Json = {
        name: clean(request.headers[name])[:300] for name in _HEADERS if name in request.headers
    }
    Call(
        workspace=source.workspace,
        source=source,
        at=clock.now(source.workspace),
        headers=headers,
        body=body[:65_536],
        status=status,
        outcome=outcome[:300],
        submission_id=submission,
    ).save(force_insert=True)
    old = Call.everywhere.filter(source=source).order_by("-at", "-pk")
    Call.everywhere.filter(pk__in=list(old.values_list("pk", flat=True)[KEPT_CALLS:])).delete()
    answer: Json = {"title": outcome}
    if submission is not None:
        answer["submission"] = str(submission)
    response = JsonResponse(answer, status=status)
    if status == 429:
        response["Retry-After"] = "60"
    return response


def forget_calls(workspace: Workspace) -> int:
    """Empty the calls whose submission is forgotten; how many."""
    calls = Call.objects.of(workspace).filter(submission__forgotten_at__isnull=False)
    return int(calls.exclude(body=b"", headers={}).update(body=b"", headers={}))
