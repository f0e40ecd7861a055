from django.apps import AppConfig


class DoorsConfig(AppConfig):
    name = "server.doors"

    def ready(self) -> None:
        """Say what the rows of this room hold of people, and have the doors looked at in time."""
        from . import looking, personal  # noqa: F401
