"""The public address of files that emails link to."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.http import content_disposition_header
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from .files import read_file_token


@never_cache
@require_safe
def file(request: HttpRequest, token: str) -> HttpResponse:
    """The file, to be kept and never shown here, so that nothing in it can act on this site."""
    found = read_file_token(token)
    if found is None:
        return render(request, "mail/no_file.html", status=404)
    row, works = found
    if not works:
        return render(request, "mail/no_file.html", {"workspace": row.workspace}, status=410)
    response = HttpResponse(bytes(row.file.content), content_type=row.file.content_type)
    disposition = content_disposition_header(True, row.file.name)
    response["Content-Disposition"] = disposition or "attachment"
    response["X-Content-Type-Options"] = "nosniff"
    response["Content-Security-Policy"] = "sandbox; default-src 'none'"
    return response
