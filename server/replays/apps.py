from django.apps import AppConfig


class ReplaysConfig(AppConfig):
    name = "server.replays"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
