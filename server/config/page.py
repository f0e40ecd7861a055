"""The page that holds the interface, as Vite built it, with the nonce for its styles."""

from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import cache_control, never_cache
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


@cache_control(public=True, max_age=86_400)
def icon(request: HttpRequest) -> HttpResponse:
    """The mark in the browser's tab; asked for on public pages too, so it sets no cookie."""
    drawn = (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 16">'
        '<path fill="#1d5b4f" d="M2 2h12v12H2z"/><path stroke="#faf7f1" stroke-width="1.5" '
        'd="M5 5l3 3.5L11 5M8 8.500V12" fill="none"/></svg>'
    )
    return HttpResponse(drawn, content_type="image/svg+xml")
