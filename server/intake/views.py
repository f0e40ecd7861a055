"""The public page of a form, and its posts. No rule runs in these requests."""

import hashlib
import secrets
from functools import lru_cache
from typing import Any
from urllib.parse import urlsplit

from csp.constants import SELF
from django.core import signing
from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.http.multipartparser import MultiPartParserError
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.clickjacking import xframe_options_exempt
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from core.documents import Problem
from core.forms import Answers, Form, answer_to, check_answers
from core.routes import RouteDocument, is_web_address, next_page
from core.values import read_yes_no

from .actions import receive, route_of_revision
from .models import RouteRevision
from .open_forms import OpenForm, open_form

_SALT = "yalla.rendering"
_LONGEST = 20_000


class SeeOther(HttpResponseRedirect):
    """303: the answer to a post is another page (RFC 9110 15.4.4)."""

    status_code = 303


@csrf_exempt
@xframe_options_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def form_page(request: HttpRequest, key: str) -> HttpResponse:
    """Show the form, or take a post of it."""
    form = open_form(key)
    if form is None:
        return render(request, "intake/closed.html", status=404)
    if request.method != "POST":
        answers = _prefilled(request, form.revision_id)
        return _show(request, form, form.revision_id, answers=answers, problems={})
    try:
        posted = _answers(request)
    except RequestDataTooBig:
        return _refuse(request, 413, "That is more than a form can take (64 KB).")
    except TooManyFieldsSent:
        return _refuse(request, 413, "That is more than the 200 fields that a form can take.")
    except MultiPartParserError:
        return _refuse(request, 400, "The form arrived broken.")
    return _take(request, form, posted)


@never_cache
@xframe_options_exempt
@require_http_methods(["GET", "HEAD"])
def thanks_page(request: HttpRequest, key: str) -> HttpResponse:
    """What the visitor sees after the form, where it is a text."""
    form = open_form(key)
    if form is None:
        return render(request, "intake/closed.html", status=404)
    route = route_of_revision(form.revision_id)
    context = {"sees": route.visitor_sees, "name": form.workspace_name}
    return _framed(render(request, "intake/thanks.html", context), route)


def _take(request: HttpRequest, form: OpenForm, posted: Answers) -> HttpResponse:
    answers = tuple((name, text) for name, text in posted if not name.startswith("_"))
    token = answer_to(posted, "_rendering") or ""
    shown, rendering = _read_rendering(token, form)
    route = route_of_revision(shown)
    problems = check_answers(route.form, answers)
    if problems:
        return _show(request, form, shown, answers=answers, problems=problems, token=token)
    context: dict[str, Any] = {
        "page": request.build_absolute_uri(request.path),
        "from": (answer_to(posted, "_from") or "")[:2000],
    }
    if form.keeps_ip:
        context["ip"] = request.META.get("REMOTE_ADDR")
    # The same rendering with other answers is a correction, not a repeat.
    digest = hashlib.sha256(repr((rendering, answers)).encode()).hexdigest()
    receive(form, shown, answers, digest, context)
    target = next_page(route.visitor_sees, answers) or f"{request.path}/thanks"
    return _framed(SeeOther(target), route)


def _show(
    request: HttpRequest,
    opened: OpenForm,
    revision: str,
    *,
    answers: Answers,
    problems: dict[str, Problem],
    token: str = "",
) -> HttpResponse:
    route = route_of_revision(revision)
    context = {
        "form": route.form,
        "name": opened.workspace_name,
        "questions": [_as_shown(question, answers, problems) for question in route.form.questions],
        "problems": [
            (question.id, problems[question.name].sentence)
            for question in route.form.questions
            if question.name in problems
        ],
        "wordings": [one.wording for one in route.consent if one.wording and not one.question],
        "token": token or _new_rendering(revision),
        "came_from": answer_to(answers, "_from") or request.headers.get("Referer", "")[:2000],
    }
    page = render(request, "intake/form.html", context, status=422 if problems else 200)
    return _framed(page, route)


def _as_shown(question: Any, answers: Answers, problems: dict[str, Problem]) -> dict[str, Any]:
    answer = answer_to(answers, question.name) or ""
    return {
        "question": question,
        "answer": answer,
        "ticked": read_yes_no(answer) is True if answer else False,
        "problem": problems.get(question.name),
    }


def _prefilled(request: HttpRequest, revision: str) -> Answers:
    """Hidden questions: a fixed value, or a parameter of the page's address."""
    form: Form = route_of_revision(revision).form
    return tuple(
        (one.name, (request.GET.get(one.parameter) if one.parameter else None) or one.value)
        for one in form.questions
        if one.type == "hidden"
    )


def _answers(request: HttpRequest) -> Answers:
    """The pairs of the post. PostgreSQL keeps no NUL in text, so it becomes U+FFFD."""
    return tuple(
        (name.replace("\0", "\ufffd")[:200], text.replace("\0", "\ufffd")[:_LONGEST])
        for name, texts in request.POST.lists()
        for text in texts
    )


def _new_rendering(revision: str) -> str:
    return signing.Signer(salt=_SALT).sign(f"{revision}:{secrets.token_urlsafe(12)}")


def _read_rendering(token: str, form: OpenForm) -> tuple[str, str]:
    """The revision that was shown, and the name of the rendering; a fresh one if not ours."""
    try:
        text = signing.Signer(salt=_SALT).unsign(token)
    except signing.BadSignature:
        return form.revision_id, secrets.token_urlsafe(12)
    revision, _, name = text.partition(":")
    known = revision == form.revision_id or _is_of(revision, str(form.source_id))
    return (revision if known else form.revision_id), name


@lru_cache(maxsize=2048)
def _is_of(revision: str, source: str) -> bool:
    return bool(RouteRevision.everywhere.filter(pk=revision, source_id=source).exists())


def _framed(response: HttpResponse, route: RouteDocument) -> HttpResponse:
    """Let any page hold the form in a frame, and the post go on to the page set."""
    allowed = [SELF]
    sees = route.visitor_sees
    if sees.kind == "page" and is_web_address(sees.address):
        parts = urlsplit(sees.address.strip())
        allowed.append(f"{parts.scheme}://{parts.netloc}")
    response._csp_replace = {  # type: ignore[attr-defined]
        "frame-ancestors": ["*"],
        "form-action": allowed,
    }
    return response


def _refuse(request: HttpRequest, status: int, sentence: str) -> HttpResponse:
    return render(request, "intake/refused.html", {"sentence": sentence}, status=status)
