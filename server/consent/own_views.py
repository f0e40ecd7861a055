"""The person's own page, from a signed link, and the page that confirms what they asked for.

Everything happens by POST; a scanner that fetches every link of an email changes nothing.
"""

import json
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.http import content_disposition_header
from django.utils.translation import gettext as _
from django.utils.translation import ngettext
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from server.people.facts import field_facts, language_of, values_of
from server.people.links import PAGE_LASTS, REQUEST_LASTS, read_own_token, read_request_token
from server.people.models import Field, OwnRequest, Subscriber
from server.profiles.records import whole_record
from server.workspaces import clock
from server.workspaces.errors import Refused
from server.workspaces.languages import render_for, render_in, speaking
from server.workspaces.shapes import Json
from server.workspaces.visitors import network_address

from .own import (
    GAPS,
    Kind,
    ask_for,
    ask_for_address,
    come_back,
    confirm_request,
    leave,
    lists_of,
    set_counting,
    set_gap,
)


@csrf_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def own_page(request: HttpRequest, token: str) -> HttpResponse:
    """What the person gets and what is known of them; the signed token is what allows it."""
    named = read_own_token(token)
    person = _person(named.pk) if named else None
    if named is None or person is None:
        return render_for(request, "consent/unknown.html", status=404)
    now, language = clock.now(person.workspace), language_of(person)
    if now > named.at + PAGE_LASTS:
        if request.method == "POST":
            ask_for(person, Kind.PAGE)
        context = {"person": person, "sent": request.method == "POST"}
        return render_in(language, request, "consent/own_old.html", context, 410)
    sentence, wrong = "", ""
    with speaking(language):
        if request.method == "POST":
            try:
                sentence = _act(request, person)
            except Refused as reason:
                wrong = reason.title
            person.refresh_from_db()
        context = _shown(person, sentence, wrong)
    return render_in(language, request, "consent/own.html", context, 422 if wrong else 200)


def _act(request: HttpRequest, person: Subscriber) -> str:
    """Do what the button says; the sentence that answers it."""
    ip = network_address(request)
    what, _colon, about = request.POST.get("do", "").partition(":")
    match what:
        case "leave":
            leave(person, [_list(person, about)], ip)
            return _("You have unsubscribed from this list.")
        case "all":
            leave(person, None, ip)
            return _("You have unsubscribed from everything. You will only get what you ask for.")
        case "back":
            if come_back(person, _list(person, about), ip):
                return _("Please check your inbox: we sent you an email to confirm that it is you.")
            return _("You are subscribed again.")
        case "fewer":
            days = request.POST.get("days", "")
            set_gap(
                person, int(days) if days.isascii() and days.isdigit() and len(days) < 4 else -1
            )
            return _("Saved. This applies from the next email on.")
        case "uncount" | "count":
            set_counting(person, what == "count")
            return (
                _("What you open and click may be counted again.")
                if what == "count"
                else _("What you open and click is no longer counted.")
            )
        case "address":
            new = ask_for_address(person, request.POST.get("address", ""))
            return _("Please check the inbox of %(address)s and confirm the change there.") % {
                "address": new
            }
        case "data":
            ask_for(person, Kind.DATA)
            return _("Please check your inbox: we sent you a link to your data.")
        case "erase":
            ask_for(person, Kind.ERASE)
            return _(
                "Please check your inbox and confirm it there. Nothing is deleted before that."
            )
    raise Refused(_("Something went wrong. Please open this page again from your latest email."))


def _list(person: Subscriber, about: str) -> str:
    """A list of theirs, or an error: nobody learns of others by trying."""
    known = {one.pk for one in lists_of(person)}
    if about not in known:
        raise Refused(_("You were never subscribed to this."))
    return about


def _shown(person: Subscriber, sentence: str, wrong: str) -> Json:
    values = values_of(person)
    fields = [field_facts(one) for one in Field.objects.of(person.workspace).order_by("pk")]
    lists = lists_of(person)
    return {
        "person": person,
        "gets": any(one.state in ("subscribed", "pending") for one in lists),
        "workspace": person.workspace,
        "lists": lists,
        "fields": [
            (one.label, one.shown(values[one.key]))
            for one in fields
            if one.type != "email" and values.get(one.key) not in (None, "", ())
        ],
        "gaps": [(days, _gap(days)) for days in GAPS],
        "sentence": sentence,
        "wrong": wrong,
    }


def _gap(days: int) -> str:
    if days == 0:
        return _("every email")
    sentence = ngettext("at most one email a day", "at most one email every %(days)s days", days)
    return sentence % {"days": days}


@csrf_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def request_page(request: HttpRequest, token: str) -> HttpResponse:
    """GET says what the link does, POST does it."""
    named = read_request_token(token)
    rows = OwnRequest.everywhere.select_related("workspace", "subscriber__workspace")
    row = rows.filter(pk=named.pk).first() if named else None
    if named is None or row is None:
        return render_for(request, "consent/unknown.html", status=404)
    context: Json = {"row": row, "workspace": row.workspace}
    language = language_of(row.subscriber)
    late = clock.now(row.workspace) > named.at + REQUEST_LASTS
    if late or row.done_at is not None or row.kind == Kind.CHANGED:
        context["late"] = late
        return render_in(language, request, "consent/request_over.html", context, 410)
    if request.method != "POST":
        return render_in(language, request, "consent/request.html", context)
    if row.kind == Kind.DATA:
        return _GIVES.get(request.POST.get("as", ""), _as_file)(request, row.subscriber)
    try:
        with speaking(language):
            context["done"] = confirm_request(row)
    except Refused as reason:
        context["wrong"] = reason.title
        return render_in(language, request, "consent/request.html", context, 422)
    return render_in(language, request, "consent/request_done.html", context)


def _as_file(request: HttpRequest, person: Subscriber) -> HttpResponse:
    body = json.dumps(whole_record(person), ensure_ascii=False, indent=2)
    response = HttpResponse(body, content_type="application/json")
    name = content_disposition_header(True, "what-is-known-of-me.json")
    response["Content-Disposition"] = name or "attachment"
    return response


def _to_print(request: HttpRequest, person: Subscriber) -> HttpResponse:
    return render(request, "profiles/record.html", {"record": whole_record(person)})


_GIVES: dict[str, Callable[[HttpRequest, Subscriber], HttpResponse]] = {
    "file": _as_file,
    "page": _to_print,
}


def _person(pk: object) -> Subscriber | None:
    rows = Subscriber.everywhere.select_related("workspace")
    found: Subscriber | None = rows.filter(pk=pk).first()
    return found
