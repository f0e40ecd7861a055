from django.apps import AppConfig


class RoutingConfig(AppConfig):
    name = "server.routing"
