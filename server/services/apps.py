from django.apps import AppConfig


class ServicesConfig(AppConfig):
    name = "server.services"

    def ready(self) -> None:
        """Say what the rows of this room hold of people, and listen to what becomes of them."""
        from . import listening, personal  # noqa: F401
