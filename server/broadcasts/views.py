"""A broadcast in a browser: the letter as everybody may read it."""

from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from core.documents import Problem
from core.messages import MessageDocument
from server.mail.api import email_page
from server.mail.models import MessageRevision
from server.mail.previewing import preview_of
from server.workspaces.languages import render_for

from .models import Broadcast, going_document


@never_cache
@require_safe
def broadcast_page(request: HttpRequest, key: str) -> HttpResponse:
    """The letter for nobody in particular: nothing in it is anybody's, and its links count nothing."""
    row = Broadcast.everywhere.select_related("workspace").filter(page_key=key).first()
    if row is None or row.began_at is None:
        return render_for(request, "consent/unknown.html", status=404)
    document = going_document(row)
    version = document.version(row.chosen)
    text = MessageRevision.everywhere.filter(pk=row.texts.get(version.id)).first()
    if not document.page or text is None:
        return render_for(request, "consent/unknown.html", status=404)
    message = MessageDocument.model_validate(text.document)
    if version.subject:
        message = message.model_copy(update={"subject": version.subject})
    made = preview_of(row.workspace, message, None)
    if isinstance(made, Problem):
        return render_for(request, "consent/unknown.html", status=404)
    response = email_page(made.html, pictures=True)
    # Whoever knows the address may read it; nobody comes upon it.
    response["X-Robots-Tag"] = "noindex"
    return response
