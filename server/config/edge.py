"""The edge of the server: text that cannot be kept is an error at once, never a fault further in.

Bodies of the API are checked by its parser (`api.py`); what visitors post is cleaned instead
(`core/cleaning.py`), since nothing that they sent is refused for a sign they did not see.
"""

from collections.abc import Callable

from django.http import Http404, HttpRequest, HttpResponse

from core.documents import is_clean

from .problems import problem


class Edge:
    """Middleware: NUL and half surrogates in a path or query."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        in_api = request.path.startswith("/api/")
        if not is_clean(request.path):
            if in_api:
                return problem(422, "The address of this request holds a sign that cannot be kept.")
            raise Http404
        if in_api:
            for name, texts in request.GET.lists():
                if not all(is_clean(text) for text in (name, *texts)):
                    return problem(
                        422,
                        "Something that was sent cannot be kept.",
                        [unkeepable(name.replace("\0", ""))],
                    )
        return self.get_response(request)


def unkeepable(place: str) -> dict[str, str]:
    """What is said of a text that cannot be kept."""
    return {
        "code": "unkeepable",
        "place": place,
        "sentence": "It holds a sign that cannot be kept (NUL, or half of a character).",
        "fix": "Take the sign out.",
    }
