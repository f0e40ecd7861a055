from django.apps import AppConfig


class SequencesConfig(AppConfig):
    name = "server.sequences"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal, using  # noqa: F401
