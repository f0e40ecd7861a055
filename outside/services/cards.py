"""An address book: vCards that are put, read and deleted by CardDAV (RFC 6352), one collection."""

import base64
import re

from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import csrf_exempt

from .store import Store

USER, PASSWORD = "larkmoor", "demo-cards-password"
store = Store("cards")
_PROPFIND = """<?xml version="1.0" encoding="utf-8"?>
<d:multistatus xmlns:d="DAV:" xmlns:c="urn:ietf:params:xml:ns:carddav"><d:response><d:href>{at}</d:href>
<d:propstat><d:prop><d:displayname>Larkmoor contacts</d:displayname><d:resourcetype><d:collection/>
<c:addressbook/></d:resourcetype></d:prop><d:status>HTTP/1.1 200 OK</d:status></d:propstat></d:response>
</d:multistatus>"""


@csrf_exempt
def card(request: HttpRequest, name: str = "") -> HttpResponse:
    """One card, or the collection where no name is given."""
    pair = base64.b64encode(f"{USER}:{PASSWORD}".encode()).decode()
    if request.headers.get("Authorization", "") != f"Basic {pair}":
        response = HttpResponse("Sign in.", status=401)
        response["WWW-Authenticate"] = 'Basic realm="cards"'
        return response
    if not name:
        if request.method not in ("PROPFIND", "OPTIONS"):
            return HttpResponse(status=405)
        response = HttpResponse(_PROPFIND.format(at=request.path), status=207)
        response["Content-Type"] = "application/xml; charset=utf-8"
        response["DAV"] = "1, 3, addressbook"
        return response
    found = store.get("card", name)
    match request.method:
        case "PUT":
            text = request.body.decode("utf-8", "replace")
            if "BEGIN:VCARD" not in text or not re.search(r"^FN[;:]", text, re.M):
                return HttpResponse("This is no vCard.", status=415)
            if found and request.headers.get("If-None-Match") == "*":
                return HttpResponse(status=412)
            store.put("card", {"id": name, "text": text})
            return HttpResponse(status=204 if found else 201)
        case "GET" | "HEAD" if found:
            return HttpResponse(found["text"], content_type="text/vcard; charset=utf-8")
        case "DELETE" if found:
            store.remove("card", name)
            return HttpResponse(status=204)
    return HttpResponse(status=404 if found is None else 405)
