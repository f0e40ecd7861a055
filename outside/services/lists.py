"""A list service: people with fields, lists and tags; it asks new ones to confirm by email, if told to."""

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse

from .speaking import Wrong, answers, body_of, text_of
from .store import Store, Thing

KEY = "demo-list-key-4711"
PART = 25
store = Store("lists")
_FIELDS: list[Thing] = [
    {"name": "first_name", "title": "First name", "kind": "string", "limit": 40},
    {"name": "last_name", "title": "Last name", "kind": "string", "limit": 60},
    {"name": "birthday", "title": "Birthday", "kind": "day"},
    {
        "name": "interest",
        "title": "Interest",
        "kind": "one_of",
        "options": ["Moon", "Planets", "Deep sky", "Aurora"],
    },
    *(
        {
            "name": f"address.{name}",
            "title": title,
            "kind": kind,
            "part_of": "Postal address",
            "mandatory": name != "region",
        }
        for name, title, kind in (
            ("street", "Street", "string"),
            ("city", "City", "string"),
            ("postcode", "Postal code", "string"),
            ("region", "Region", "string"),
            ("country", "Country", "country"),
        )
    ),
]
_KINDS = ("string", "number", "day", "flag", "one_of", "many_of", "country")


def _allowed(request: HttpRequest) -> bool:
    return request.headers.get("X-List-Key") == KEY


api = answers(store, _allowed)


def fields() -> list[Thing]:
    """All fields, those that came with it first."""
    if not store.count("field"):
        for one in _FIELDS:
            store.put("field", {"id": one["name"], **one})
    return store.all("field")


def restore() -> None:
    """The fields that came with it, where they were removed."""
    for one in _FIELDS:
        store.put("field", {"id": one["name"], **one})


def lists() -> list[Thing]:
    """The lists; two are there from the start."""
    if not store.count("list"):
        store.put("list", {"id": "news", "title": "Observatory news"})
        store.put("list", {"id": "offers", "title": "Shop offers"})
    return store.all("list")


@api
def account(request: HttpRequest) -> HttpResponse:
    return JsonResponse({"account": {"title": "Larkmoor Observatory"}})


@api
def field_list(request: HttpRequest) -> HttpResponse:
    if request.method == "POST":
        body = body_of(request)
        title, kind = text_of(body, "title"), body.get("kind", "string")
        name = str(body.get("name") or title.lower().replace(" ", "_"))
        if kind not in _KINDS:
            raise Wrong(422, f"kind is one of {', '.join(_KINDS)}.")
        if any(one["name"] == name for one in fields()):
            raise Wrong(409, f"There is a field {name} already.")
        made = {"id": name, "name": name, "title": title, "kind": kind}
        if kind in ("one_of", "many_of"):
            made["options"] = [str(one) for one in body.get("options", [])]
        return JsonResponse(store.put("field", made), status=201)
    fields()
    return JsonResponse(_part("field", request))


@api
def list_list(request: HttpRequest) -> HttpResponse:
    if request.method == "POST":
        return JsonResponse(
            store.put("list", {"title": text_of(body_of(request), "title")}), status=201
        )
    return JsonResponse({"lists": lists()})


@api
def tag_list(request: HttpRequest) -> HttpResponse:
    if request.method == "POST":
        return JsonResponse(
            store.put("tag", {"title": text_of(body_of(request), "title")}), status=201
        )
    return JsonResponse(_part("tag", request))


def _part(kind: str, request: HttpRequest) -> Thing:
    """One part of what may be long, and where the next begins."""
    found = store.all(kind, int(request.GET.get("after") or 0), PART)
    more = len(found) == PART
    return {f"{kind}s": found, "next": str(found[-1]["number"]) if more else ""}


@api
def people(request: HttpRequest) -> HttpResponse:
    if request.method == "GET":
        found = store.find("person", request.GET.get("email", ""))
        return JsonResponse({"people": [found] if found else []})
    person = _save(body_of(request))
    return JsonResponse({"person": person})


@api
def many(request: HttpRequest) -> HttpResponse:
    """Many people at once; each has an answer of its own."""
    found = []
    for one in body_of(request).get("people") or []:
        try:
            found.append({"status": 200, "person": _save(dict(one))})
        except Wrong as wrong:
            found.append({"status": wrong.status, "message": wrong.message})
    return JsonResponse({"people": found})


@api
def person(request: HttpRequest, pk: str) -> HttpResponse:
    found = _person(pk)
    if request.method == "DELETE":
        store.remove("person", pk)
        return HttpResponse(status=204)
    return JsonResponse({"person": found})


@api
def subscribe(request: HttpRequest, pk: str) -> HttpResponse:
    if pk not in {one["id"] for one in lists()}:
        raise Wrong(404, "There is no such list.")
    body = body_of(request)
    saved = _save(body)
    state = "asked to confirm" if body.get("ask") else "subscribed"
    if saved["lists"].get(pk) != "subscribed":
        saved["lists"][pk] = state
    return JsonResponse({"person": store.put("person", saved, saved["email"])})


@api
def leave(request: HttpRequest, pk: str) -> HttpResponse:
    found = _person(pk)
    wanted = body_of(request).get("lists") or list(found["lists"])
    for one in wanted:
        if one in found["lists"]:
            found["lists"][one] = "left"
    return JsonResponse({"person": store.put("person", found, found["email"])})


@api
def tags(request: HttpRequest, pk: str) -> HttpResponse:
    found = _person(pk)
    titles = {one["id"]: one["title"] for one in store.all("tag")}
    named = [titles[one] for one in body_of(request).get("tags", []) if one in titles]
    if request.method == "DELETE":
        found["tags"] = [one for one in found["tags"] if one not in named]
    else:
        found["tags"] = sorted({*found["tags"], *named})
    return JsonResponse({"person": store.put("person", found, found["email"])})


def _person(pk: str) -> Thing:
    found = store.get("person", pk)
    if found is None:
        raise Wrong(404, "There is no such person.")
    return found


def _save(body: dict[str, Any]) -> Thing:
    address = text_of(body, "email")
    if "@" not in address:
        raise Wrong(422, f"{address} is not an address.")
    known = store.find("person", address)
    values = dict(body.get("fields") or {})
    values.pop("email", None)
    _check(values)
    if known is not None and body.get("update") is False:
        return known
    person = known or {"email": address, "fields": {}, "lists": {}, "tags": []}
    person["fields"] = {**person["fields"], **values}
    if body.get("test"):
        person["test"] = True
    return store.put("person", person, address)


def _check(values: dict[str, Any]) -> None:
    """As strict as such services are: unknown fields, too long, incomplete addresses are refused."""
    known = {one["name"]: one for one in fields()}
    for name, value in values.items():
        field = known.get(name)
        if field is None:
            raise Wrong(422, f"There is no field {name}.")
        if field["kind"] == "one_of" and value not in field.get("options", []):
            raise Wrong(422, f"{field['title']} does not allow {value}.")
        if isinstance(value, str) and len(value) > field.get("limit", 500):
            raise Wrong(422, f"{field['title']} is too long.")
    parts = [one for one in known.values() if one.get("part_of")]
    given = [one for one in parts if values.get(one["name"])]
    lacking = [
        one["title"] for one in parts if one.get("mandatory") and not values.get(one["name"])
    ]
    if given and lacking:
        raise Wrong(422, f"Postal address: {', '.join(lacking)} is missing.")
    for one in known.values():
        if one.get("mandatory") and not one.get("part_of") and not values.get(one["name"]):
            raise Wrong(422, f"{one['title']} is missing.")
