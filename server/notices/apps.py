from django.apps import AppConfig


class NoticesConfig(AppConfig):
    name = "server.notices"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
