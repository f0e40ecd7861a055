from django.apps import AppConfig


class WebhooksConfig(AppConfig):
    name = "server.webhooks"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
