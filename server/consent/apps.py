from django.apps import AppConfig


class ConsentConfig(AppConfig):
    name = "server.consent"
