"""What has changed, as it changes, for the screens that are open."""

from django.db import connection
from django.http import HttpResponse, HttpResponseBase, StreamingHttpResponse
from ninja import Router, Schema

from server.workspaces.auth import InPath, MemberRequest, member
from server.workspaces.errors import Refused

from .hub import HUB
from .topics import Topic

router = Router(tags=["stream"])


class Changes(Schema):
    """One event: what has changed since the one before."""

    topics: list[Topic]


@router.get(
    "/stream",
    auth=member,
    response={200: Changes, 204: None},
    openapi_extra={
        "responses": {
            200: {
                "description": "Server-sent events; the data of each is this object.",
                "content": {
                    "text/event-stream": {"schema": {"$ref": "#/components/schemas/Changes"}}
                },
            },
            204: {"description": "This server has no stream: ask from time to time."},
        }
    },
)
def follow_changes(request: MemberRequest, workspace: InPath) -> HttpResponseBase:
    """What changes in the workspace from now on, until the client goes or an hour is over."""
    take_socket = request.META.get("yalla.take_socket")
    if take_socket is None and not request.META.get("wsgi.multithread"):
        return HttpResponse(status=204)
    followed, who = str(request.workspace.pk), str(request.member.pk)
    if not HUB.takes(who):
        sentence = (
            "Changes cannot be followed now: too many screens are open, or the database is away."
        )
        raise Refused(sentence, status=503)
    if take_socket is not None:
        HUB.take_over(take_socket(), followed, who)
        return HttpResponse()
    # A server with a thread for each connection. Its connection to the database is of no use meanwhile.
    connection.close()
    return StreamingHttpResponse(
        HUB.follow(followed, who),
        content_type="text/event-stream",
        headers={"Cache-Control": "no-store"},
    )
