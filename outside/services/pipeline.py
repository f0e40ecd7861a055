"""A sales pipeline: people and their deals, by stages. It takes an idempotency key, and asks for OAuth 2.0."""

from django.http import HttpRequest, HttpResponse, JsonResponse

from .oauth import is_signed_in
from .speaking import Wrong, answers, body_of, text_of
from .store import Store

store = Store("pipeline")
STAGES = [
    {"id": "new", "name": "New enquiry"},
    {"id": "talking", "name": "Talking"},
    {"id": "offer", "name": "Offer made"},
    {"id": "won", "name": "Won"},
]
_FIELDS = [
    {"key": "name", "label": "Name", "type": "text", "required": True, "max_length": 120},
    {"key": "email", "label": "Email", "type": "email", "required": True},
    {"key": "phone", "label": "Phone", "type": "phone"},
    {"key": "title", "label": "Deal title", "type": "text", "max_length": 80},
    {"key": "value", "label": "Expected value", "type": "number"},
    {
        "key": "kind",
        "label": "Kind of contact",
        "type": "choice",
        "choices": ["Prospect", "Customer"],
    },
]

api = answers(store, is_signed_in)


@api
def me(request: HttpRequest) -> HttpResponse:
    return JsonResponse({"name": "Larkmoor sales"})


@api
def fields(request: HttpRequest) -> HttpResponse:
    return JsonResponse(_FIELDS, safe=False)


@api
def stages(request: HttpRequest) -> HttpResponse:
    return JsonResponse(STAGES, safe=False)


@api
def people(request: HttpRequest) -> HttpResponse:
    found = store.find("person", request.GET.get("email", ""))
    return JsonResponse({"people": [found] if found else []})


@api
def deals(request: HttpRequest) -> HttpResponse:
    key = request.headers.get("Idempotency-Key", "")
    if key and (made := store.get("done", key)):
        return JsonResponse({"deal": store.get("deal", made["deal"])})
    body = body_of(request)
    person = body.get("person") or {}
    address = text_of(person, "email")
    text_of(person, "name")
    stage = body.get("stage")
    if stage not in {one["id"] for one in STAGES}:
        raise Wrong(422, f"There is no stage {stage}.")
    known = store.find("person", address) or {}
    saved = store.put("person", {**known, **person}, address)
    title = person.get("title") or f"Enquiry of {person['name']}"
    deal = store.put(
        "deal",
        {
            "title": title,
            "stage": stage,
            "person": saved["id"],
            "email": address,
            "test": body.get("test"),
        },
        address,
    )
    if key:
        store.put("done", {"id": key, "deal": deal["id"]})
    return JsonResponse({"deal": deal}, status=201)


@api
def deal(request: HttpRequest, pk: str) -> HttpResponse:
    if not store.remove("deal", pk):
        raise Wrong(404, "There is no such deal.")
    return HttpResponse(status=204)


@api
def forget(request: HttpRequest, pk: str) -> HttpResponse:
    found = store.get("person", pk)
    if found is None:
        raise Wrong(404, "There is no such person.")
    store.remove("person", pk)
    for one in store.all("deal"):
        if one["person"] == pk:
            store.remove("deal", one["id"])
    return HttpResponse(status=204)
