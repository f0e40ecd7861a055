"""The public pages of a form, and its posts. No rule runs in these requests."""

import hashlib
import hmac
import secrets
import time
from functools import lru_cache
from urllib.parse import parse_qsl, urlencode, urlsplit, urlunsplit

from csp.constants import NONCE, SELF
from django.conf import settings
from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from django.http.multipartparser import MultiPartParserError
from django.template.loader import render_to_string
from django.utils.translation import gettext_noop
from django.views.decorators.cache import cache_control, never_cache
from django.views.decorators.clickjacking import xframe_options_exempt
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from core.deciding import RouteDocument, VisitorSees, is_web_address, next_page
from core.documents import Problem
from core.reading import Answers, Form, answer_to, check_answers
from core.values import read_time_zone
from server.people.models import MailingList
from server.sources.actions import route_of_revision
from server.sources.models import RouteRevision
from server.sources.open_forms import OpenForm, open_form
from server.sources.tokens import new_rendering, read_rendering
from server.submissions.receiving import (
    Arrival,
    address_problem,
    near_address,
    receive,
    recent,
    report_refused,
    suspicion_of,
)
from server.workspaces.languages import Voice, render_for, render_in, speaking, spoken
from server.workspaces.languages import translated as _
from server.workspaces.shapes import Json
from server.workspaces.visitors import network_address

from .models import Picture
from .posts import FilesNotTaken, Post, read_post
from .shown import shown_form
from .visitor_words import for_visitor

_MARK = hashlib.sha256(settings.SECRET_KEY.encode()).digest()
WAITS = "waits"
"""How the address of the page after the form says that somebody looks at the post first."""
_OWN_NAMES = ("_rendering", "_from", "_page", "_title", "_website", "_zone", "_charset_")
"""Names of the form's own boxes, which are no answers. `_website` is the one people do not see."""


class SeeOther(HttpResponseRedirect):
    """303: the answer to a post is another page (RFC 9110 15.4.4)."""

    status_code = 303


@csrf_exempt
@xframe_options_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def form_page(request: HttpRequest, key: str, kiosk: bool = False) -> HttpResponse:
    """Show the form, or take a post of it. `kiosk`: on a screen that visitors share."""
    form = open_form(key, request.GET.get("try", ""))
    if form is None or form.kind not in ("form", "posted"):
        return render_for(request, "forms/closed.html", status=404)
    route = route_of_revision(form.revision_id)
    if kiosk and not route.form.shared_screen:
        return render_for(request, "forms/closed.html", status=404)
    if request.method == "POST":
        return _open_to_all(request, _posted(request, form, route, kiosk))
    if form.kind == "posted":
        context = {"name": form.workspace_name}
        return render_in(form.language, request, "forms/posts_only.html", context, status=405)
    answers = _prefilled(request, route.form)
    return _framed(_form_html(request, form, route, answers, {}, kiosk=kiosk), route)


@xframe_options_exempt
@never_cache
@require_http_methods(["GET", "HEAD"])
def form_part(request: HttpRequest, key: str) -> HttpResponse:
    """The form for a page of somebody else's website, which its script puts there."""
    form = open_form(key, request.GET.get("try", ""))
    if form is None or form.kind != "form":
        return _open_to_all(request, JsonResponse({"title": "This form is not open."}, status=404))
    route = route_of_revision(form.revision_id)
    voice = _voice(form, route)
    with speaking(voice):
        words = {
            "close": _("Close"),
            "form": _("Form"),
            "not_sent": _("Not sent. Please try again in a moment."),
        }
    return _open_to_all(
        request,
        JsonResponse(
            {
                "html": _part(form, route, _prefilled(request, route.form), {}),
                "style": _style(route.form),
                "pop_up": route.form.pop_up.model_dump(),
                "words": words,
                **spoken(voice.language),
            }
        ),
    )


@never_cache
@xframe_options_exempt
@require_http_methods(["GET", "HEAD"])
def thanks_page(request: HttpRequest, key: str, kiosk: bool = False) -> HttpResponse:
    """What the visitor sees after the form, where it is a text."""
    form = open_form(key, request.GET.get("try", ""))
    if form is None:
        return render_for(request, "forms/closed.html", status=404)
    route = route_of_revision(form.revision_id)
    voice = _voice(form, route)
    context = {
        "sees": _said(route.visitor_sees, voice),
        "asks": _asks(route),
        "waits": request.GET.get("state") == WAITS,
        "name": form.workspace_name,
        "style": _style(route.form),
        "back": f"/f/{key}/kiosk{_query(request)}" if kiosk else "",
        "is_try": form.is_try,
    }
    return _framed(render_in(voice, request, "forms/thanks.html", context), route)


@cache_control(public=True, max_age=86_400, immutable=True)
@require_http_methods(["GET", "HEAD"])
def picture(request: HttpRequest, picture: str) -> HttpResponse:
    """A picture of a form."""
    row = Picture.everywhere.filter(pk=picture).first()
    if row is None:
        raise Http404
    response = HttpResponse(bytes(row.content), content_type=row.content_type)
    response["Cross-Origin-Resource-Policy"] = "cross-origin"
    return response


def _posted(
    request: HttpRequest, form: OpenForm, route: RouteDocument, kiosk: bool
) -> HttpResponse:
    voice = _voice(form, route)
    if recent(form) > settings.POSTS_PER_MINUTE:
        too_many = gettext_noop("Too many people are sending this form right now.")
        response = _refuse(request, voice, 429, too_many)
        response["Retry-After"] = "60"
        return response
    try:
        posted = read_post(request)
    except (RequestDataTooBig, TooManyFieldsSent):
        return _refuse(request, voice, 413, gettext_noop("This is more than a form can take."))
    except FilesNotTaken:
        return _refuse(request, voice, 413, gettext_noop("This form does not take files."))
    except (MultiPartParserError, ValueError):
        return _refuse(request, voice, 400, gettext_noop("The form arrived damaged."))
    return _take(request, form, route, posted, kiosk)


def _take(
    request: HttpRequest, form: OpenForm, route: RouteDocument, post: Post, kiosk: bool
) -> HttpResponse:
    # Pages that are open still show the revision before; it judges what they send.
    rendering = read_rendering(answer_to(post.pairs, "_rendering") or "")
    shown = form.revision_id
    if rendering and not form.is_try and _is_of(rendering.revision, str(form.source_id)):
        shown = rendering.revision
        route = route_of_revision(shown)
    answers = tuple((name, text) for name, text in post.pairs if name not in _OWN_NAMES)
    problems = check_answers(route.form, answers, form.country)
    held = ""
    if form.kind == "posted" and not problems and not form.is_draft:
        problems = address_problem(form, route, answers)
        # What a real visitor sent is never lost for the spelling of a name.
        held = near_address(form, route, answers) if problems else ""
        if held:
            problems = {}
        for problem in problems.values():
            report_refused(form, problem)
    if problems:
        return _to_correct(request, form, route, post.pairs, problems, kiosk)
    signs = {
        "honeypot": (answer_to(post.pairs, "_website") or "")[:100],
        "seconds": round(time.time() - rendering.shown_at, 2) if rendering else None,
    }
    # As routing decides it, by what is known already.
    waits = bool(held or (not form.is_try and suspicion_of(signs)))
    receive(
        form,
        Arrival(
            revision_id=shown,
            answers=answers,
            idempotency_key=_named(
                rendering.name if rendering else secrets.token_urlsafe(12), answers
            ),
            context=_context(request, form, post.pairs),
            signs=signs,
            visitor="" if kiosk else _visitor(request, form),
            raw=post.body,
            raw_type=post.content_type,
            held=held,
        ),
    )
    return _after(request, form, route, answers, kiosk=kiosk, waits=waits)


def _named(rendering: str, answers: Answers) -> str:
    """The same rendering with other answers is a correction, not a repeat."""
    digest = hashlib.sha256(repr(answers).encode()).hexdigest()[:32]
    return f"{rendering}:{digest}"


def _context(request: HttpRequest, form: OpenForm, pairs: Answers) -> Json:
    """Where a post came from, as far as it can be told: nothing of it may make the post fail."""
    page = answer_to(pairs, "_page") or request.headers.get("Referer", "")
    parameters = _parameters(page)
    parameters |= {name: text for name, text in request.GET.dict().items() if name != "try"}
    context: Json = {
        "page": page[:2000] or request.build_absolute_uri(request.path),
        "from": (answer_to(pairs, "_from") or "")[:2000],
    }
    title = (answer_to(pairs, "_title") or "")[:300]
    if title:
        context["title"] = title
    if parameters:
        context["parameters"] = {name[:100]: text[:500] for name, text in parameters.items()}
    if form.keeps_ip:
        context["ip"] = network_address(request)
    zone = answer_to(pairs, "_zone") or ""
    if form.asks_zone and isinstance(read_time_zone(zone), str) and "/" in zone:
        context["zone"] = read_time_zone(zone)
    return context


def _parameters(page: str) -> dict[str, str]:
    """The parameters in the address of the page; none where it cannot be read."""
    try:
        return dict(parse_qsl(urlsplit(page).query, max_num_fields=40)) if page else {}
    except ValueError:
        return {}


def _visitor(request: HttpRequest, form: OpenForm) -> str:
    """Tells network addresses apart without keeping them."""
    visitor = f"{form.source_id}/{network_address(request)}"
    return hmac.new(_MARK, visitor.encode(), hashlib.sha256).hexdigest()[:32]


def _after(
    request: HttpRequest,
    form: OpenForm,
    route: RouteDocument,
    answers: Answers,
    *,
    kiosk: bool,
    waits: bool,
) -> HttpResponse:
    """What follows a post that was taken. One that `waits` for somebody to look at it starts nothing yet,
    so that no text or page of the form's own may promise an email."""
    target = None if kiosk or waits else next_page(route.visitor_sees, answers)
    if _wants_json(request):
        voice = _voice(form, route)
        context = {"sees": _said(route.visitor_sees, voice), "asks": _asks(route), "waits": waits}
        with speaking(voice):
            html = render_to_string("forms/thanks_part.html", context)
        return JsonResponse({"next": target, "html": html})
    path = f"/f/{request.resolver_match.kwargs['key']}" if request.resolver_match else ""
    thanks = f"{path}/kiosk/thanks" if kiosk else f"{path}/thanks"
    return _framed(SeeOther(target or thanks + _query(request, waits=waits)), route)


def _to_correct(
    request: HttpRequest,
    form: OpenForm,
    route: RouteDocument,
    pairs: Answers,
    problems: dict[str, Problem],
    kiosk: bool,
) -> HttpResponse:
    """What has to be fixed: on the form itself, or where an own form says."""
    if form.kind == "posted":
        return _own_form_to_correct(request, _voice(form, route), route, problems)
    if _wants_json(request):
        html = _part(form, route, pairs, problems)
        return JsonResponse({"html": html, "problems": len(problems)}, status=422)
    page = _form_html(request, form, route, pairs, problems, kiosk=kiosk)
    return _framed(page, route)


def _own_form_to_correct(
    request: HttpRequest, voice: Voice, route: RouteDocument, problems: dict[str, Problem]
) -> HttpResponse:
    """To the page set for it, or back where the form is if that website is allowed; never
    to an address of the visitor's choosing."""
    own = route.own_form
    back = request.headers.get("Referer", "")
    target = own.errors_to if is_web_address(own.errors_to) else ""
    if not target and _site(back) and _site(back) in {_site(one) for one in own.sites}:
        target = back
    with speaking(voice):
        words = {name: for_visitor(one, route.form) for name, one in problems.items()}
    if _wants_json(request):
        body = {
            name: {**one.model_dump(), "sentence": words[name], "fix": ""}
            for name, one in problems.items()
        }
        return JsonResponse({"problems": body}, status=422)
    if not target:
        context = {"problems": list(words.values())}
        return render_in(voice, request, "forms/to_correct.html", context, status=422)
    parts = urlsplit(target)
    kept = [pair for pair in parse_qsl(parts.query, keep_blank_values=True) if pair[0] != "wrong"]
    query = urlencode([*kept, *(("wrong", f"{name}:{one.code}") for name, one in problems.items())])
    return SeeOther(urlunsplit(parts._replace(query=query)))


def _site(address: str) -> str:
    if not is_web_address(address):
        return ""
    parts = urlsplit(address.strip())
    return f"{parts.scheme}://{parts.netloc}".lower()


def _form_html(
    request: HttpRequest,
    form: OpenForm,
    route: RouteDocument,
    pairs: Answers,
    problems: dict[str, Problem],
    *,
    kiosk: bool,
) -> HttpResponse:
    voice = _voice(form, route)
    with speaking(voice):
        shown = shown_form(route, pairs, problems)
    context = {
        **shown,
        "name": form.workspace_name,
        "style": _style(route.form),
        "token": answer_to(pairs, "_rendering") or new_rendering(form.revision_id),
        "came_from": answer_to(pairs, "_from") or request.headers.get("Referer", "")[:2000],
        "page": answer_to(pairs, "_page") or request.build_absolute_uri()[:2000],
        "kiosk": kiosk,
        "is_try": form.is_try,
        "asks_zone": form.asks_zone and not kiosk,
    }
    return render_in(voice, request, "forms/form.html", context, 422 if problems else 200)


def _part(
    form: OpenForm, route: RouteDocument, pairs: Answers, problems: dict[str, Problem]
) -> str:
    """The form as a piece of a page; its script says which page it stands on."""
    with speaking(_voice(form, route)):
        context = {
            **shown_form(route, pairs, problems),
            "token": answer_to(pairs, "_rendering") or new_rendering(form.revision_id),
            "came_from": answer_to(pairs, "_from") or "",
            "page": answer_to(pairs, "_page") or "",
            "title": answer_to(pairs, "_title") or "",
            "picture_at": settings.PUBLIC_ADDRESS,
            "part": True,
            "asks_zone": form.asks_zone,
        }
        return render_to_string("forms/form_part.html", context)


def _voice(form: OpenForm, route: RouteDocument) -> Voice:
    """The language of the form, and its own words around the questions."""
    return Voice(route.form.language or form.language, "form", route.form.words)


def _asks(route: RouteDocument) -> bool:
    """Whether whoever subscribes by this form confirms by email first."""
    lists = [line.list for line in route.consent if line.list]
    return any(line.confirm for line in route.consent) or (
        bool(lists) and MailingList.everywhere.filter(pk__in=lists, confirms=True).exists()
    )


def _said(sees: VisitorSees, voice: Voice) -> VisitorSees:
    """Where another page follows, this text is for those whom it cannot follow (a shared screen)."""
    if sees.kind == "page" or not (sees.heading or sees.text):
        with speaking(voice):
            words = {"heading": _("Thank you"), "text": _("We have received your details.")}
        return sees.model_copy(update=words)
    return sees


def _style(form: Form) -> Json | None:
    if form.style is None:
        return None
    from core.documents import readable_on

    style = form.style
    return {**style.model_dump(), "on_accent": readable_on(style.accent)}


def _prefilled(request: HttpRequest, form: Form) -> Answers:
    """What questions begin with: a parameter of the page's address, or a fixed value."""
    return tuple(
        (one.name, (request.GET.get(one.parameter) if one.parameter else None) or one.value)
        for one in form.questions
        if one.parameter or one.value
    )


@lru_cache(maxsize=2048)
def _is_of(revision: str, source: str) -> bool:
    return bool(RouteRevision.everywhere.filter(pk=revision, source_id=source).exists())


def _wants_json(request: HttpRequest) -> bool:
    return "application/json" in request.headers.get("Accept", "")


def _query(request: HttpRequest, *, waits: bool = False) -> str:
    """What the page after the form is asked with: the token of a try, and whether it waits."""
    token = request.GET.get("try")
    asked = {**({"try": token} if token else {}), **({"state": WAITS} if waits else {})}
    return f"?{urlencode(asked)}" if asked else ""


def _open_to_all(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """Readable for scripts of any website (Fetch standard, CORS): no cookie is ever looked at."""
    if request.headers.get("Origin"):
        response["Access-Control-Allow-Origin"] = "*"
    return response


def _framed(response: HttpResponse, route: RouteDocument) -> HttpResponse:
    """Let any page hold the form in a frame, and the post go on to the page set."""
    allowed = [SELF]
    sees = route.visitor_sees
    if sees.kind == "page" and is_web_address(sees.address):
        allowed.append(_site(sees.address))
    response._csp_replace = {  # type: ignore[attr-defined]
        "frame-ancestors": ["*"],
        "form-action": allowed,
        "style-src": [SELF, NONCE],
    }
    return response


def _refuse(request: HttpRequest, voice: Voice, status: int, sentence: str) -> HttpResponse:
    with speaking(voice):
        words = _(sentence)
    if _wants_json(request):
        return JsonResponse({"title": words}, status=status)
    return render_in(voice, request, "forms/refused.html", {"sentence": words}, status)
