"""Errors as RFC 9457 has them: problem details."""

from typing import Any

from django.http import HttpResponse, JsonResponse


def problem(status: int, title: str, errors: list[dict[str, Any]] | None = None) -> HttpResponse:
    """An error; `errors` name places in what was sent."""
    body = {"type": "about:blank", "title": title, "status": status, "errors": errors or []}
    return JsonResponse(body, status=status, content_type="application/problem+json")
