from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "server.people"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from . import personal  # noqa: F401
