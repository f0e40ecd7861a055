"""What people see of the services: who is in each, its mood, and where visitors buy and book."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.views.decorators.csrf import csrf_exempt

from ..sheets import all_sheets
from . import cards, courses, lists, oauth, pipeline, rows
from .events import send, tell, told_to
from .shop import KEY as SHOP_KEY
from .shop import PRODUCTS, booking, shop
from .speaking import MOODS, mood_of
from .store import Store

SERVICES: dict[str, tuple[str, Store]] = {
    "lists": ("List service", lists.store),
    "pipeline": ("Sales pipeline", pipeline.store),
    "courses": ("Course platform", courses.store),
    "shop": ("Telescope shop", shop),
    "booking": ("Booking page", booking),
    "rows": ("Sheet host", rows.store),
    "cards": ("Address book", cards.store),
}
_KEYS = {
    "lists": [("API key", lists.KEY)],
    "pipeline": [("Client", "larkmoor-pipeline"), ("Secret", "demo-pipeline-secret")],
    "courses": [("Client", "larkmoor-courses"), ("Secret", "demo-courses-secret")],
    "shop": [("API key", SHOP_KEY)],
    "rows": [("Name", rows.USER), ("Password", rows.PASSWORD)],
    "cards": [("Name", cards.USER), ("Password", cards.PASSWORD)],
}


@csrf_exempt
def service(request: HttpRequest, name: str, pk: str = "") -> HttpResponse:
    """One service as its own people see it."""
    if name not in SERVICES:
        raise Http404
    title, store = SERVICES[name]
    if request.method == "POST":
        return _act(request, name, store)
    context: dict[str, Any] = {
        "name": name,
        "title": title,
        "services": [(key, label) for key, (label, _) in SERVICES.items()],
        "chosen": pk,
        "mood": mood_of(store),
        "moods": MOODS,
        "keys": _KEYS.get(name, []),
        "events": sorted(store.all("event"), key=lambda one: -one["number"])[:30],
        "hook": told_to(store) if name in ("shop", "booking") else None,
        "products": PRODUCTS if name == "shop" else [],
        **_content(name),
    }
    return render(request, f"services/{name}.html", context)


def _content(name: str) -> dict[str, Any]:
    match name:
        case "lists":
            titles = {one["id"]: one["title"] for one in lists.lists()}
            people = [
                {
                    **one,
                    "on": [(titles.get(key, key), state) for key, state in one["lists"].items()],
                }
                for one in reversed(lists.store.all("person"))
            ]
            return {"people": people[:200], "fields": lists.fields(), "lists": lists.lists()}
        case "pipeline":
            deals = pipeline.store.all("deal")
            who = {one["id"]: one for one in pipeline.store.all("person")}
            stages = [
                {
                    **stage,
                    "deals": [
                        {**one, "who": who.get(one["person"])}
                        for one in reversed(deals)
                        if one["stage"] == stage["id"]
                    ],
                }
                for stage in pipeline.STAGES
            ]
            return {"stages": stages}
        case "courses":
            return {"accounts": courses.accounts(), "courses": courses.COURSES}
        case "rows":
            return {"sheets": [(one, all_sheets().get(one)) for one in ("volunteers", "orders")]}
        case "cards":
            return {"cards": list(reversed(cards.store.all("card")))}
    return {}


def _act(request: HttpRequest, name: str, store: Store) -> HttpResponse:
    given = request.POST
    match given.get("do"):
        case "mood" if given.get("mood") in MOODS:
            store.put("mood", {"id": "mood", "name": given["mood"]})
            if given["mood"] == "expired" and name in ("pipeline", "courses"):
                oauth.end_tokens()
                store.put("mood", {"id": "mood", "name": "well"})
        case "hook":
            hook = {"id": "hook", "address": given.get("address", "").strip()}
            store.put("hook", {**hook, "secret": given.get("secret", "").strip()})
        case "again":
            event = store.get("event", given.get("event", ""))
            if event:
                store.put("event", {**event, "told": send(store, event)})
        case "remove-field" if name == "lists":
            store.remove("field", given.get("field", ""))
        case "account" if name == "courses" and given.get("email"):
            address = given["email"].strip()
            store.put("account", {"email": address, "courses": []}, address)
        case "restore" if name == "lists":
            lists.restore()
        case "empty":
            for kind in ("person", "deal", "done"):
                for one in store.all(kind):
                    store.remove(kind, one["id"])
        case "leave" if name == "lists":
            person = store.get("person", given.get("person", ""))
            if person:
                person["lists"] = dict.fromkeys(person["lists"], "left")
                store.put("person", person, person["email"])
                tell(store, "person.left", {"email": person["email"]})
    return HttpResponseRedirect(request.path)


@csrf_exempt
def buy(request: HttpRequest) -> HttpResponse:
    """Buy something in the shop, as a visitor does."""
    product = next((one for one in PRODUCTS if one["id"] == request.POST.get("product")), None)
    address = request.POST.get("email", "").strip()
    if request.method != "POST" or product is None or "@" not in address:
        return HttpResponse("Choose something, and give an address.", status=422)
    data = {
        "email": address,
        "name": request.POST.get("name", "").strip(),
        "product": product["title"],
        "amount": product["price"],
        "currency": "EUR",
    }
    event = tell(shop, "order.paid", data)
    return render(request, "services/bought.html", {"order": event})


@csrf_exempt
def book(request: HttpRequest) -> HttpResponse:
    """Book a visit, as a visitor does."""
    address, day = request.POST.get("email", "").strip(), request.POST.get("day", "").strip()
    if request.method != "POST" or "@" not in address or not day:
        return HttpResponse("Choose a day, and give an address.", status=422)
    data = {
        "email": address,
        "name": request.POST.get("name", "").strip(),
        "day": day,
        "with": "Education team",
        "people": request.POST.get("people", "").strip() or "1",
    }
    event = tell(booking, "visit.booked", data)
    return render(request, "services/booked.html", {"booking": event})
