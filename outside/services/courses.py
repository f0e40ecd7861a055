"""A course platform: it enrols only people who have an account there."""

from django.http import HttpRequest, HttpResponse, JsonResponse

from .oauth import is_signed_in
from .speaking import Wrong, answers, body_of, text_of
from .store import Store

store = Store("courses")
COURSES = [
    {"code": "first-light", "title": "First light: a course for beginners"},
    {"code": "star-photos", "title": "Photographing the night sky"},
]

api = answers(store, is_signed_in)


def accounts() -> list[dict[str, object]]:
    """The accounts; one is there from the start."""
    if not store.count("account"):
        store.put("account", {"email": "ines@example.com", "courses": []}, "ines@example.com")
    return store.all("account")


@api
def school(request: HttpRequest) -> HttpResponse:
    return JsonResponse({"school": "Larkmoor School of the Sky"})


@api
def courses(request: HttpRequest) -> HttpResponse:
    return JsonResponse({"courses": COURSES})


@api
def account(request: HttpRequest) -> HttpResponse:
    accounts()
    found = store.find("account", request.GET.get("email", ""))
    return JsonResponse({"account": found})


@api
def enrol(request: HttpRequest, code: str) -> HttpResponse:
    if code not in {one["code"] for one in COURSES}:
        raise Wrong(404, "There is no such course.", "no_course")
    accounts()
    address = text_of(body_of(request), "email")
    found = store.find("account", address)
    if found is None:
        raise Wrong(404, f"Nobody with the address {address} has an account.", "no_account")
    found["courses"] = sorted({*found["courses"], code})
    store.put("account", found, address)
    return JsonResponse({"enrolled": {"id": f"{found['id']}-{code}"}})
