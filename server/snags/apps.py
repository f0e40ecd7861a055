from django.apps import AppConfig


class SnagsConfig(AppConfig):
    name = "server.snags"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
