"""The page that holds the interface, as Vite built it, with the nonce for its styles."""

from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """Every address of the interface is this one page."""
    built = _built()
    if built is None:
        return HttpResponse("The interface is not built. Run ./run demo.", status=503)
    return HttpResponse(built.replace("%NONCE%", str(request.csp_nonce)))  # type: ignore[attr-defined]


@lru_cache(maxsize=1)
def _built() -> str | None:
    file = settings.WEB_BUILD / "index.html"
    return file.read_text(encoding="utf-8") if file.is_file() else None
