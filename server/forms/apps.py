from django.apps import AppConfig


class FormsConfig(AppConfig):
    name = "server.forms"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
