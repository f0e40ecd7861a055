from django.apps import AppConfig


class SubmissionsConfig(AppConfig):
    name = "server.submissions"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
