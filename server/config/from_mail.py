"""Pages that emails lead to open in windows of mail programs.

Such a window is often sandboxed, and a browser refuses to show a page in it that asks for a window group
of its own (Cross-Origin-Opener-Policy). These pages have nothing that another window could reach: no
session, and no script but their own.
"""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

FROM_MAIL = ("/l/", "/u/", "/c/", "/p/", "/q/", "/d/", "/f/")


class FromMail:
    """Middleware: the opener policy of pages that emails lead to."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if request.path.startswith(FROM_MAIL):
            response.headers.setdefault("Cross-Origin-Opener-Policy", "unsafe-none")
        return response
