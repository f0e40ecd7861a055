from django.apps import AppConfig


class ImportsConfig(AppConfig):
    name = "server.imports"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
