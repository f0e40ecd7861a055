"""The public pages for confirming and for unsubscribing, by GET and by one click (RFC 8058)."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from core.documents import Because
from core.people import CONFIRMED_ALREADY, LINK_TOO_OLD
from core.profiles import ListPages
from server.mail.confirm_links import read_confirm, read_shown, shown_token
from server.mail.models import Send
from server.mail.own_requests import ask
from server.people.links import read_leave_token
from server.people.models import MailingList, Membership, OwnRequest
from server.workspaces.languages import Voice, render_for, render_in, speaking
from server.workspaces.languages import translated as _
from server.workspaces.visitors import network_address

from .actions import confirm_subscription, leave


@csrf_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def leave_page(request: HttpRequest, token: str) -> HttpResponse:
    """GET shows what can be left; nothing changes by it, since scanners fetch links.

    POST with `List-Unsubscribe=One-Click` is a mail program's, by RFC 8058 3.2; it comes
    without cookies, so the signed token is what allows it.
    """
    send_id = read_leave_token(token)
    send = (
        Send.everywhere.select_related("workspace", "subscriber__workspace", "list", "revision")
        .filter(pk=send_id)
        .first()
        if send_id
        else None
    )
    if send is None:
        return render_for(request, "consent/unknown.html", status=404)
    voice = _voice_of(send)
    if request.method == "POST" and request.POST.get("from") == "page":
        # This link never runs out and may have been forwarded: their page opens from the inbox.
        because = Because(
            kind="person", sentence="they asked for their page by the link in an email"
        )
        ask(send.subscriber, OwnRequest.Kind.PAGE, because)
        return render_in(voice, request, "consent/page_sent.html", {"send": send})
    if request.method == "POST":
        one_click = request.POST.get("List-Unsubscribe") == "One-Click"
        everything = request.POST.get("from") == "all" or send.list_id is None
        by = "with one click in their mail program" if one_click else "on the page behind the link"
        leave(send, everything=everything, by=by, ip=network_address(request))
        if one_click:
            with speaking(voice):
                done = _("You are unsubscribed")
            return HttpResponse(f"{done}\n", content_type="text/plain; charset=utf-8")
        page = ListPages() if everything or send.list is None else _pages(send.list)
        if page.left.address:
            return redirect(page.left.address)
        context = {"send": send, "everything": everything, "page": page.left}
        return render_in(voice, request, "consent/left.html", context)
    others = send.subscriber.memberships.filter(state="subscribed").exclude(list_id=send.list_id)
    state = send.subscriber.memberships.filter(list_id=send.list_id).first()
    subscribed = state is not None and state.state == "subscribed"
    context = {"send": send, "subscribed": subscribed, "others": others.select_related("list")}
    return render_in(voice, request, "consent/leave.html", context)


@csrf_exempt
@never_cache
@require_http_methods(["GET", "HEAD", "POST"])
def confirm_page(request: HttpRequest, token: str) -> HttpResponse:
    """GET asks, POST confirms: a scanner that fetches every link of an email confirms nothing."""
    asked = read_confirm(token)
    membership = (
        Membership.everywhere.select_related("list", "workspace")
        .filter(pk=asked.membership)
        .first()
        if asked
        else None
    )
    if asked is None or membership is None:
        return render_for(request, "consent/unknown.html", status=404)
    row, workspace = membership.list, membership.workspace
    voice = row.voice(workspace, row.language or workspace.language)
    asks = _asks(row, voice)
    if request.method != "POST":
        shown = shown_token(asked, " · ".join(asks.values()))
        return render_in(
            voice, request, "consent/confirm.html", {**asks, "name": row.shown_name, "shown": shown}
        )
    words = read_shown(asked, request.POST.get("shown", "")) or " · ".join(asks.values())
    page_address = request.build_absolute_uri("/c/")
    _membership, changed, why = confirm_subscription(
        asked, words, page_address, network_address(request)
    )
    done = changed or why == CONFIRMED_ALREADY
    page = _pages(row).confirmed
    if done and page.address:
        return redirect(page.address)
    with speaking(voice):
        why = _not_confirmed(why)
    context = {"list": row, "done": done, "why": why, "page": page}
    status = 200 if done else 410
    return render_in(voice, request, "consent/confirmed.html", context, status)


def _asks(row: MailingList, voice: Voice) -> dict[str, str]:
    """What the page that asks to confirm says, which whoever presses its button agrees to."""
    page = _pages(row).asks
    with speaking(voice):
        parts = {
            "heading": page.heading or row.shown_name,
            "text": page.text or row.description,
            "button": _("Yes, subscribe me"),
        }
    return {name: one for name, one in parts.items() if one}


def _not_confirmed(why: str) -> str:
    """Why a link confirms nothing any more, for whoever followed it."""
    if why == LINK_TOO_OLD:
        return _("The link is older than 14 days. Please sign up again to get a new one.")
    return _("You have unsubscribed since. Please sign up again if you want the emails.")


def _voice_of(send: Send) -> str | Voice:
    """In the language of the email; an older one has not kept its revision."""
    of_letter = str(send.revision.document.get("language") or "") if send.revision else ""
    language = of_letter or (send.list and send.list.language) or send.workspace.language
    return send.list.voice(send.workspace, language) if send.list else language


def _pages(row: MailingList) -> ListPages:
    return ListPages.model_validate(row.pages)
