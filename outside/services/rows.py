"""Rows of sheets by HTTP: appended by other programs, each once for its key, and read after a number."""

import base64
import threading

from django.http import HttpRequest, HttpResponse, JsonResponse

from ..sheets import all_sheets
from .speaking import Wrong, answers, body_of
from .store import Store

USER, PASSWORD = "larkmoor", "demo-sheet-password"
store = Store("rows")
_WRITING = threading.Lock()


def _allowed(request: HttpRequest) -> bool:
    pair = base64.b64encode(f"{USER}:{PASSWORD}".encode()).decode()
    return request.headers.get("Authorization", "") == f"Basic {pair}"


api = answers(store, _allowed)


@api
def sheets(request: HttpRequest) -> HttpResponse:
    names = ["volunteers", "orders"]
    found = [{"name": one, "title": one.capitalize()} for one in names if all_sheets().get(one)]
    return JsonResponse({"sheets": found})


@api
def columns(request: HttpRequest) -> HttpResponse:
    """The headings of every sheet."""
    names: dict[str, None] = {}
    for one in ("volunteers", "orders"):
        sheet = all_sheets().get(one)
        if sheet:
            names |= dict.fromkeys(sheet["headings"])  # type: ignore[arg-type]
    return JsonResponse({"columns": [{"key": one, "label": one} for one in names]})


@api
def append(request: HttpRequest, name: str) -> HttpResponse:
    sheet = all_sheets().get(name)
    if sheet is None:
        raise Wrong(404, "There is no such sheet.")
    body = body_of(request)
    key = str(body.get("key") or "")
    if key and store.get("row", f"{name}/{key}"):
        return JsonResponse({"row": {"key": key}})
    cells = body.get("cells")
    if not isinstance(cells, dict):
        raise Wrong(422, "cells is missing.")
    headings: list[str] = sheet["headings"]  # type: ignore[assignment]
    with _WRITING:
        sheet = all_sheets().get(name) or sheet
        sheet["rows"].append([str(cells.get(one, "")) for one in headings])
        all_sheets().keep(name, sheet)
        if key:
            store.put("row", {"id": f"{name}/{key}"})
    return JsonResponse({"row": {"key": key or str(len(sheet["rows"]))}}, status=201)


@api
def row(request: HttpRequest, name: str) -> HttpResponse:
    """Whether a row with a key is there."""
    key = request.GET.get("key", "")
    return JsonResponse({"there": bool(store.get("row", f"{name}/{key}"))})
