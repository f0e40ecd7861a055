"""The limit that accepting is held against: a bare view that inserts one row."""

from django.db import models
from django.http import HttpRequest, HttpResponse
from django.urls import include, path
from django.views.decorators.csrf import csrf_exempt

from server.workspaces.ids import new_id


class BareRow(models.Model):
    """One row with as much in it as a submission has."""

    id = models.UUIDField(primary_key=True, default=new_id)
    at = models.DateTimeField(auto_now_add=True)
    body = models.JSONField()

    class Meta:
        app_label = "bench"
        managed = False
        db_table = "bench_row"

    def __str__(self) -> str:
        return str(self.id)


@csrf_exempt
def insert_one(request: HttpRequest) -> HttpResponse:
    """Insert one row."""
    BareRow._default_manager.create(body=request.POST.dict())
    return HttpResponse(status=204)


urlpatterns = [path("bench/insert", insert_one), path("", include("server.config.urls"))]
