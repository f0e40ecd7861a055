from django.apps import AppConfig


class ConnectionsConfig(AppConfig):
    name = "server.connections"
