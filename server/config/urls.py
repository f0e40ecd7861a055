"""The addresses of the server."""

from django.urls import path, re_path

from server.consent.views import confirm_page, leave_page
from server.intake.hooks import hook
from server.intake.views import form_page, form_part, picture, thanks_page

from .api import api
from .health import health
from .outside import clock
from .page import icon, page

urlpatterns = [
    path("health", health),
    path("favicon.ico", icon),
    path("api/", api.urls),
    path("outside/clock", clock),
    path("f/<str:key>", form_page),
    path("f/<str:key>/thanks", thanks_page),
    path("f/<str:key>/part", form_part),
    path("f/<str:key>/stand", form_page, {"stand": True}),
    path("f/<str:key>/stand/thanks", thanks_page, {"stand": True}),
    path("pictures/<uuid:picture>", picture),
    path("hook/<str:key>", hook),
    path("u/<str:token>", leave_page),
    path("c/<str:token>", confirm_page),
    re_path(r"^(?!api/|static/|f/|u/|c/|outside/|hook/|pictures/).*$", page),
]
