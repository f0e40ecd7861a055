"""The addresses of the outside world."""

from django.urls import path

from . import views

urlpatterns = [
    path("", views.home),
    path("larkmoor/", views.website),
    path("larkmoor/<slug:page>/", views.website),
    path("partner/", views.partner),
    path("sheets/<str:name>.<str:form>", views.sheet_file),
    path("sheets/<str:name>/", views.sheet),
    path("inboxes/", views.inboxes),
    path("inboxes/<str:address>/", views.inbox),
    path("mail/<str:name>/", views.letter),
    path("mail/<str:name>/html/", views.letter_html),
    path("mail/<str:name>/source/", views.letter_source),
    path("mail/<str:name>/unsubscribe/", views.one_click),
    path("mail/<str:name>/<slug:what>/", views.act),
    path("clock/", views.clock),
]
