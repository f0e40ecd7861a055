"""What mail programs and readers of emails ask for: files, pictures, links that are counted."""

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils.http import content_disposition_header
from django.views.decorators.cache import cache_control, never_cache
from django.views.decorators.http import require_safe

from server.workspaces.languages import render_for, render_in

from .counting import note_touch, read_click, read_open
from .files import read_file_token
from .models import LibraryPicture, Touch

_PIXEL = bytes.fromhex(
    "47494638396101000100800000000000ffffff21f90401000001002c00000000010001000002024c01003b"
)
"""A GIF of one transparent pixel."""
_PURPOSES = ("Purpose", "Sec-Purpose", "X-Purpose", "X-Moz")
"""Headers in which a program says that it asks ahead."""


@never_cache
@require_safe
def file(request: HttpRequest, token: str) -> HttpResponse:
    """The file, to be kept and never shown here, so that nothing in it can act on this site."""
    found = read_file_token(token)
    if found is None:
        return render_for(request, "mail/no_file.html", status=404)
    row, works = found
    if not works:
        context = {"workspace": row.workspace}
        return render_in(row.workspace.language, request, "mail/no_file.html", context, 410)
    response = HttpResponse(bytes(row.file.content), content_type=row.file.content_type)
    disposition = content_disposition_header(True, row.file.name)
    response["Content-Disposition"] = disposition or "attachment"
    response["X-Content-Type-Options"] = "nosniff"
    response["Content-Security-Policy"] = "sandbox; default-src 'none'"
    return response


@never_cache
@require_safe
def link(request: HttpRequest, token: str) -> HttpResponse:
    """Go where a link of an email leads; that it was followed is judged later."""
    found = read_click(token)
    if found is None:
        return render_for(request, "mail/no_link.html", status=404)
    kind = Touch.Kind.CLICK if found.leads_to else Touch.Kind.TRAP
    note_touch(
        found.send, kind, found.written, request.headers.get("User-Agent", ""), _how(request)
    )
    if not found.leads_to:
        return HttpResponse(status=204)
    # A redirect that a page may not read: where it leads has no business to know our token.
    answer = HttpResponseRedirect(found.leads_to)
    answer["Referrer-Policy"] = "no-referrer"
    answer["X-Robots-Tag"] = "noindex"
    return answer


@never_cache
@require_safe
def pixel(request: HttpRequest, token: str) -> HttpResponse:
    """The picture by which an email tells that it was opened; the same whatever the token is."""
    send = read_open(token)
    if send is not None:
        agent = request.headers.get("User-Agent", "")
        note_touch(send, Touch.Kind.OPEN, "", agent, _how(request))
    return HttpResponse(_PIXEL, content_type="image/gif")


def _how(request: HttpRequest) -> str:
    """What a request says of itself that a person's does not."""
    if request.method == "HEAD":
        return "HEAD"
    written = next((request.headers[name] for name in _PURPOSES if name in request.headers), "")
    return "prefetch" if "prefetch" in written.lower() or "preview" in written.lower() else ""


@cache_control(public=True, max_age=31_536_000, immutable=True)
@require_safe
def picture(request: HttpRequest, key: str, size: str, ending: str) -> HttpResponse:
    """A picture of a message; it never changes."""
    row = LibraryPicture.everywhere.filter(key=key).first()
    right = row is not None and ending == ("png" if row.content_type == "image/png" else "jpg")
    if row is None or not right or size not in ("1x", "2x"):
        raise Http404
    content = row.sharp if size == "2x" else row.content
    response = HttpResponse(bytes(content), content_type=row.content_type)
    response["X-Content-Type-Options"] = "nosniff"
    # Mail programs in a browser show it from another site.
    response["Cross-Origin-Resource-Policy"] = "cross-origin"
    return response
