"""Errors as RFC 9457 has them: problem details."""

from django.http import HttpResponse, JsonResponse

from server.workspaces.shapes import Json


def problem(status: int, title: str, errors: list[Json] | None = None) -> HttpResponse:
    """An error; `errors` name places in what was sent."""
    body = {"type": "about:blank", "title": title, "status": status, "errors": errors or []}
    return JsonResponse(body, status=status, content_type="application/problem+json")
