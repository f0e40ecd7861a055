"""The pages: two websites, a sheet host, inboxes, and the clock."""

import re
import smtplib
from typing import Any

import httpx
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.views.decorators.csrf import csrf_exempt

from . import settings
from .mailbox import Mailbox, Received
from .returning import answer_by_itself, complain, reply, unsubscribe_by_mail
from .services.shop import PRODUCTS
from .sheets import all_sheets, as_csv, as_xlsx

PAGES = {
    "home": "website/home.html",
    "guides": "website/guides.html",
    "first-telescope": "website/first-telescope.html",
    "first-telescope-guide": "website/guide.html",
    "night-sky-calendar": "website/calendar.html",
    "night-sky-calendar-pages": "website/calendar-pages.html",
    "star-photos": "website/star-photos.html",
    "star-photos-sheet": "website/starter-sheet.html",
    "shop": "website/shop.html",
    "plan-a-visit": "website/plan-a-visit.html",
    "choose-a-day": "website/booking.html",
    "thanks": "website/thanks.html",
    "sent": "website/sent.html",
}
SHOWN = (
    ("pictures", "As it looks"),
    ("no-pictures", "Without pictures"),
    ("text", "Plain text"),
    ("source", "Source"),
)
"""How an email can be looked at."""


def _mailbox() -> Mailbox:
    return Mailbox(settings.MAIL_FOLDER)


def home(request: HttpRequest) -> HttpResponse:
    """What there is."""
    return render(request, "home.html", {"yalla": settings.YALLA_ADDRESS})


def website(request: HttpRequest, page: str = "home") -> HttpResponse:
    """A page of the observatory's website. `form` is the address of the form it holds."""
    if page not in PAGES:
        raise Http404
    query = request.META.get("QUERY_STRING", "")
    form = f"{settings.YALLA_ADDRESS}/f/first-telescope-guide" + (f"?{query}" if query else "")
    context = {
        "form": form,
        "yalla": settings.YALLA_ADDRESS,
        "name": request.GET.get("name", ""),
        "people": request.GET.get("people", ""),
        "products": PRODUCTS,
    }
    return render(request, PAGES[page], context)


def partner(request: HttpRequest) -> HttpResponse:
    """The website of a partner, whose form is its own and posts to Yalla."""
    wrong = ", ".join(one.partition(":")[0] for one in request.GET.getlist("wrong"))
    return render(request, "partner.html", {"yalla": settings.YALLA_ADDRESS, "wrong": wrong})


@csrf_exempt
def sheet(request: HttpRequest, name: str) -> HttpResponse:
    """A sheet, to read and to change."""
    sheets = all_sheets()
    found = sheets.get(name)
    if found is None:
        raise Http404
    if request.method == "POST":
        cells = request.POST.getlist("cell")
        match request.POST.get("do"):
            case "add":
                found["rows"].append(cells)
            case "insert":
                found["rows"].insert(0, cells)
            case "rename":
                renamed = request.POST.get("from"), request.POST.get("to", "")
                found["headings"] = [
                    renamed[1] if one == renamed[0] else one  # type: ignore[misc]
                    for one in found["headings"]
                ]
        sheets.keep(name, found)
        return HttpResponseRedirect(request.path)
    return render(request, "sheets.html", {"name": name, "sheet": found})


def sheet_file(request: HttpRequest, name: str, form: str) -> HttpResponse:
    """A sheet as it is published."""
    found = all_sheets().get(name)
    if found is None or form not in ("csv", "xlsx"):
        raise Http404
    if form == "csv":
        return HttpResponse(as_csv(found), content_type="text/csv; charset=utf-8")
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return HttpResponse(as_xlsx(found), content_type=kind)


def inboxes(request: HttpRequest) -> HttpResponse:
    """The inboxes that have something."""
    wanted = request.GET.get("search", "").strip()
    if "@" in wanted and wanted.casefold() in {one.casefold() for one in _mailbox().counts()}:
        return HttpResponseRedirect(f"/inboxes/{wanted}/")
    counts = sorted(
        one for one in _mailbox().counts().items() if wanted.casefold() in one[0].casefold()
    )
    return render(
        request,
        "inboxes.html",
        {"counts": counts[:200], "more": len(counts) - 200, "search": wanted},
    )


def inbox(request: HttpRequest, address: str) -> HttpResponse:
    """The emails of one address."""
    return render(request, "inbox.html", _reader(address))


def letter(request: HttpRequest, name: str) -> HttpResponse:
    """One email beside the others of its address: as it looks, without pictures, as text, as it came."""
    one = _letter(name)
    show = request.GET.get("show", "")
    context = {
        **_reader(request.GET.get("to", ""), one),
        "text": one.part("plain"),
        "source": one.content.decode("utf-8", "replace") if show == "source" else "",
        "leave": bool(_one_click_link(one)),
        "by_mail": "mailto:" in one.message.get("List-Unsubscribe", ""),
        "reply_to": one.message.get("Reply-To", ""),
        "views": SHOWN,
        "show": show if show in dict(SHOWN) else "pictures",
    }
    return render(request, "letter.html", context)


def _reader(address: str, one: Received | None = None) -> dict[str, Any]:
    """The emails of an address; where none is named, of the first that an email went to."""
    if one is not None and address.casefold() not in {to.casefold() for to in one.recipients}:
        address = next(iter(one.recipients), "")
    return {"one": one, "address": address, "letters": _mailbox().list(address)}


def letter_html(request: HttpRequest, name: str) -> HttpResponse:
    """The HTML part; nothing in it may run. With `pictures=off` no picture is loaded."""
    # A mail program opens links in a window of their own.
    page = _letter(name).part("html").replace("<head>", '<head><base target="_blank">', 1)
    response = HttpResponse(page)
    pictures = "img-src 'none'; " if request.GET.get("pictures") == "off" else ""
    response["Content-Security-Policy"] = (
        f"{pictures}script-src 'none'; sandbox allow-popups allow-top-navigation-by-user-activation"
    )
    response["X-Frame-Options"] = "SAMEORIGIN"
    return response


def letter_source(request: HttpRequest, name: str) -> HttpResponse:
    """The email as it came."""
    return HttpResponse(_letter(name).content, content_type="text/plain; charset=utf-8")


@csrf_exempt
def one_click(request: HttpRequest, name: str) -> HttpResponse:
    """Unsubscribe as a mail program does: a POST to the address of the header (RFC 8058)."""
    one = _letter(name)
    link = _one_click_link(one)
    if request.method != "POST" or not _is_yalla(link):
        return HttpResponse("This email has no one-click unsubscribing.", status=400)
    answer = httpx.post(link, data={"List-Unsubscribe": "One-Click"}, timeout=10)
    return render(request, "one_click.html", {**_reader("", one), "answer": answer})


def _one_click_link(one: Received) -> str:
    """Where a POST unsubscribes, where the email says that it does (RFC 8058)."""
    link = re.search(r"<(https?://[^>]+)>", one.message.get("List-Unsubscribe", ""))
    by_post = "One-Click" in one.message.get("List-Unsubscribe-Post", "")
    return link[1] if link and by_post else ""


@csrf_exempt
def act(request: HttpRequest, name: str, what: str) -> HttpResponse:
    """What a mail program does besides: reply, report as spam, unsubscribe by mail, say who is away."""
    one = _letter(name)
    if request.method != "POST":
        return HttpResponse("Press the button in the email.", status=405)
    by_mail = re.search(r"<mailto:([^?>]+)", one.message.get("List-Unsubscribe", ""))
    try:
        if what == "spam":
            complain(one)
            said = "The mail provider was told, and told the sender."
        elif what == "reply":
            reply(one, request.POST.get("text", "").strip() or "Thank you, I read it.")
            said = "The reply went to the address that the email came from."
        elif what == "away":
            answer_by_itself(one.sender, one.recipients[0], one.content)
            said = "The sender was told that nobody reads this inbox until Monday."
        elif what == "unsubscribe-by-mail" and by_mail:
            unsubscribe_by_mail(one, by_mail[1])
            said = f"An email went to {by_mail[1]}."
        else:
            return HttpResponse("This email has nothing like that.", status=400)
    except (OSError, smtplib.SMTPException) as error:
        said = f"It could not be sent: {error}"
    return render(request, "acted.html", {**_reader("", one), "said": said})


@csrf_exempt
def clock(request: HttpRequest) -> HttpResponse:
    """The time of each workspace, and moving it forward."""
    address = f"{settings.YALLA_ADDRESS}/outside/clock"
    headers = {"Authorization": f"Bearer {settings.YALLA_TOKEN}"}
    try:
        if request.method == "POST":
            data = {
                "workspace": request.POST.get("workspace", ""),
                "minutes": request.POST.get("minutes", "0"),
            }
            httpx.post(address, headers=headers, data=data, timeout=120).raise_for_status()
            return HttpResponseRedirect("/clock/")
        workspaces = httpx.get(address, headers=headers, timeout=10).raise_for_status().json()
    except httpx.HTTPError as error:
        return HttpResponse(f"Yalla does not answer: {error}", status=502)
    steps = [(60, "an hour"), (1440, "a day"), (2880, "two days"), (10080, "a week")]
    return render(request, "clock.html", {"workspaces": workspaces["workspaces"], "steps": steps})


def _letter(name: str) -> Received:
    one = _mailbox().get(name)
    if one is None:
        raise Http404
    return one


def _is_yalla(address: str) -> bool:
    return address.startswith(f"{settings.YALLA_ADDRESS}/")
