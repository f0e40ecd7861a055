"""A broadcast in a browser: the letter as everybody may read it."""

from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from core.documents import Problem
from core.messages import MessageDocument
from server.mail.api import email_page
from server.mail.frames import Stands
from server.mail.models import MessageRevision, Send
from server.mail.previewing import preview_of
from server.people.links import READ_LASTS, read_page_token
from server.workspaces import clock
from server.workspaces.languages import render_for

from .models import Broadcast, going_document


@never_cache
@require_safe
def broadcast_page(request: HttpRequest, key: str) -> HttpResponse:
    """The letter for nobody in particular: nothing in it is anybody's, and its links count nothing."""
    return _page(request, key, None)


@never_cache
@require_safe
def own_broadcast_page(request: HttpRequest, key: str, token: str) -> HttpResponse:
    """The letter for one person, with what is known of them by now, by the link in their email. Once that has run
    out, or they are gone, it is the page for everybody."""
    named = read_page_token(token)
    send = (
        Send.everywhere.select_related("subscriber", "workspace", "message")
        .filter(pk=named.pk, broadcast__isnull=False)
        .first()
        if named
        else None
    )
    if named is None or send is None or clock.now(send.workspace) - named.at > READ_LASTS:
        return _page(request, key, None)
    return _page(request, key, send)


def _page(request: HttpRequest, key: str, send: Send | None) -> HttpResponse:
    row = Broadcast.everywhere.select_related("workspace").filter(page_key=key).first()
    if row is None or row.began_at is None:
        return render_for(request, "consent/unknown.html", status=404)
    document = going_document(row)
    own = send if send is not None and send.broadcast == row.pk else None
    version = document.version(own.version if own else row.chosen)
    text = MessageRevision.everywhere.filter(pk=row.texts.get(version.id)).first()
    if not document.page or text is None:
        return render_for(request, "consent/unknown.html", status=404)
    message = MessageDocument.model_validate(text.document)
    if version.subject:
        message = message.model_copy(update={"subject": version.subject})
    made = preview_of(row.workspace, message, own.subscriber if own else None, Stands.ON_PAGE)
    if own and (isinstance(made, Problem) or made.holes):
        return _page(request, key, None)
    if isinstance(made, Problem):
        return render_for(request, "consent/unknown.html", status=404)
    response = email_page(made.html, pictures=True)
    # Whoever knows the address may read it; nobody comes upon it.
    response["X-Robots-Tag"] = "noindex"
    return response
