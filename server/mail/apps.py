from django.apps import AppConfig


class MailConfig(AppConfig):
    name = "server.mail"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
