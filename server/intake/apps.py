from django.apps import AppConfig


class IntakeConfig(AppConfig):
    name = "server.intake"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal, using  # noqa: F401
