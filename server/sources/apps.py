from django.apps import AppConfig


class SourcesConfig(AppConfig):
    name = "server.sources"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal, using  # noqa: F401
