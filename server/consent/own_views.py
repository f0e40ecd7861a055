"""The person's own page, from a signed link, and the page that confirms what they asked for.

Everything happens by POST; a scanner that fetches every link of an email changes nothing.
"""

import json
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.http import content_disposition_header
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from server.people.facts import field_facts, values_of
from server.people.links import PAGE_LASTS, REQUEST_LASTS, read_own_token, read_request_token
from server.people.models import Field, OwnRequest, Subscriber
from server.profiles.records import whole_record
from server.workspaces import clock
from server.workspaces.errors import Refused
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
        return render(request, "consent/unknown.html", status=404)
    now = clock.now(person.workspace)
    if now > named.at + PAGE_LASTS:
        if request.method == "POST":
            ask_for(person, Kind.PAGE)
        context = {"person": person, "sent": request.method == "POST"}
        return render(request, "consent/own_old.html", context, status=410)
    said, wrong = "", ""
    if request.method == "POST":
        try:
            said = _act(request, person)
        except Refused as reason:
            fixes = " ".join(one.fix for one in reason.problems if one.fix)
            wrong = f"{reason.title} {fixes}".strip()
        person.refresh_from_db()
    status = 422 if wrong else 200
    return render(request, "consent/own.html", _shown(person, said, wrong), status=status)


def _act(request: HttpRequest, person: Subscriber) -> str:
    """Do what the button says; the sentence that answers it."""
    ip = network_address(request)
    what, _, about = request.POST.get("do", "").partition(":")
    match what:
        case "leave":
            leave(person, [_list(person, about)], ip)
            return "You have left this list."
        case "all":
            leave(person, None, ip)
            return "You have left every list: nothing more comes but what you ask for."
        case "back":
            if come_back(person, _list(person, about), ip):
                return "Look into your inbox: an email there asks whether it is really you."
            return "You are on the list again."
        case "fewer":
            days = request.POST.get("days", "")
            set_gap(
                person, int(days) if days.isascii() and days.isdigit() and len(days) < 4 else -1
            )
            return "This is in force from the next email on."
        case "uncount" | "count":
            set_counting(person, what == "count")
            return (
                "What you open and click is counted again."
                if what == "count"
                else "Nobody counts any more what you open and click."
            )
        case "address":
            new = ask_for_address(person, request.POST.get("address", ""))
            return f"Look into the inbox of {new}: the change is done once you confirm it there."
        case "data":
            ask_for(person, Kind.DATA)
            return "Look into your inbox: a link there gives you everything that is known of you."
        case "erase":
            ask_for(person, Kind.ERASE)
            return "Look into your inbox: nothing is erased before you confirm it there."
    raise Refused("This page does not know what to do. Open it again from the email.")


def _list(person: Subscriber, about: str) -> str:
    """A list of theirs, or an error: nobody learns of others by trying."""
    known = {one.pk for one in lists_of(person)}
    if about not in known:
        raise Refused("You were never on this list.")
    return about


def _shown(person: Subscriber, said: str, wrong: str) -> dict[str, Any]:
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
        "said": said,
        "wrong": wrong,
    }


def _gap(days: int) -> str:
    if days == 0:
        return "every email there is"
    return "at most one a day" if days == 1 else f"at most one in {days} days"


@csrf_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def request_page(request: HttpRequest, token: str) -> HttpResponse:
    """GET says what the link does, POST does it."""
    named = read_request_token(token)
    rows = OwnRequest.everywhere.select_related("workspace", "subscriber__workspace")
    row = rows.filter(pk=named.pk).first() if named else None
    if named is None or row is None:
        return render(request, "consent/unknown.html", status=404)
    context = {"row": row, "workspace": row.workspace}
    late = clock.now(row.workspace) > named.at + REQUEST_LASTS
    if late or row.done_at is not None or row.kind == Kind.CHANGED:
        context["late"] = late
        return render(request, "consent/request_over.html", context, status=410)
    if request.method != "POST":
        return render(request, "consent/request.html", context)
    if row.kind == Kind.DATA:
        return _GIVES.get(request.POST.get("as", ""), _as_file)(request, row.subscriber)
    try:
        context["done"] = confirm_request(row)
    except Refused as reason:
        context["wrong"] = reason.title
        return render(request, "consent/request.html", context, status=422)
    return render(request, "consent/request_done.html", context)


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
