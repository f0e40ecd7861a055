"""A shop and a booking page: visitors buy and book on them, and both tell Yalla; the shop's orders can be
asked for as well."""

from django.http import HttpRequest, HttpResponse, JsonResponse

from .speaking import answers
from .store import Store

KEY = "demo-shop-key-0815"
shop = Store("shop")
booking = Store("booking")
PRODUCTS = [
    {"id": "dobson-150", "title": "Dobson 150, table top", "price": "189.00"},
    {"id": "dobson-200", "title": "Dobson 200, floor standing", "price": "449.00"},
    {"id": "binoculars", "title": "Binoculars 10x50", "price": "95.00"},
    {"id": "torch", "title": "Red torch", "price": "14.00"},
]


def _allowed(request: HttpRequest) -> bool:
    return request.headers.get("Authorization", "") == f"Bearer {KEY}"


api = answers(shop, _allowed)


@api
def about(request: HttpRequest) -> HttpResponse:
    return JsonResponse({"shop": "Larkmoor telescope shop", "currency": "EUR"})


@api
def orders(request: HttpRequest) -> HttpResponse:
    """Orders after a cursor, the oldest first, fifty at a time."""
    after = int(request.GET.get("after") or 0)
    found = shop.all("event", after, 50)
    last = found[-1]["number"] if found else after
    return JsonResponse({"orders": found, "next": str(last), "more": len(found) == 50})
