from django.apps import AppConfig


class InboundConfig(AppConfig):
    name = "server.inbound"
