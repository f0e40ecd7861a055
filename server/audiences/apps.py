from django.apps import AppConfig


class AudiencesConfig(AppConfig):
    name = "server.audiences"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
