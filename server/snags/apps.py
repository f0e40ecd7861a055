from django.apps import AppConfig


class SnagsConfig(AppConfig):
    name = "server.snags"
