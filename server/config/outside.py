"""The clock, for the simulated world that ships for demo and tests."""

import hmac
from datetime import datetime, timedelta

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import csrf_exempt

from server.sequences.moving_time import move_time
from server.workspaces import clock as clocks
from server.workspaces.models import Workspace


@csrf_exempt
def clock(request: HttpRequest) -> HttpResponse:
    """GET the time of every workspace; POST `workspace` and `minutes` to move one forward."""
    sent = request.headers.get("Authorization", "").removeprefix("Bearer ")
    token = settings.OUTSIDE_TOKEN
    allowed = token and hmac.compare_digest(sent.encode(errors="replace"), token.encode())
    if not settings.CLOCK_MOVABLE or not allowed:
        return JsonResponse({"title": "The time cannot be moved here."}, status=403)
    if request.method == "POST":
        try:
            workspace = Workspace.objects.get(slug=request.POST.get("workspace", ""))
            minutes = min(max(int(request.POST.get("minutes", "0")), 0), 366 * 24 * 60)
        except (Workspace.DoesNotExist, ValueError):
            return JsonResponse({"title": "No such workspace, or no such time."}, status=422)
        move_time(workspace, clocks.now(workspace) + timedelta(minutes=minutes))
    return JsonResponse(
        {
            "workspaces": [
                {"slug": one.slug, "name": one.name, "now": _shown(clocks.now(one))}
                for one in Workspace.objects.order_by("name")
            ]
        }
    )


def _shown(moment: datetime) -> str:
    return moment.isoformat(timespec="minutes")
