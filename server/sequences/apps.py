from django.apps import AppConfig


class SequencesConfig(AppConfig):
    name = "server.sequences"

    def ready(self) -> None:
        """Say what the rows of this room hold of people, and listen to what becomes of them."""
        from . import listening, personal, using  # noqa: F401
