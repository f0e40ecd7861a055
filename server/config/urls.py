"""The addresses of the server."""

from django.urls import path, re_path
from django.views.generic import RedirectView

from server.broadcasts.views import broadcast_page, own_broadcast_page
from server.connections.hearing import hear
from server.consent.own_views import own_page, request_page
from server.consent.views import confirm_page, leave_page
from server.forms.views import form_page, form_part, picture, thanks_page
from server.mail.views import file, link, pixel
from server.mail.views import picture as letter_picture
from server.people.signing import jwks
from server.webhooks.hooks import hook

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
    path("f/<str:key>/kiosk", form_page, {"kiosk": True}),
    # Where tablets at stands were pointed before.
    path("f/<str:key>/stand", RedirectView.as_view(url="/f/%(key)s/kiosk", query_string=True)),
    path("f/<str:key>/kiosk/thanks", thanks_page, {"kiosk": True}),
    path("pictures/<uuid:picture>", picture),
    path("hook/<str:key>", hook),
    path("hear/<str:key>", hear),
    path("u/<str:token>", leave_page),
    path("c/<str:token>", confirm_page),
    path("p/<str:token>", own_page),
    path("b/<str:key>", broadcast_page),
    path("b/<str:key>/<str:token>", own_broadcast_page),
    path("q/<str:token>", request_page),
    path("d/<str:token>", file),
    path("l/<str:token>", link),
    path("o/<str:token>.gif", pixel),
    path("i/<slug:key>/<slug:size>.<slug:ending>", letter_picture),
    path(".well-known/jwks.json", jwks),
    re_path(
        r"^(?!api/|static/|f/|u/|b/|c/|p/|q/|d/|outside/|hook/|hear/|pictures/|\.well-known/).*$",
        page,
    ),
]
