from django.apps import AppConfig


class BroadcastsConfig(AppConfig):
    name = "server.broadcasts"

    def ready(self) -> None:
        """Say what the rows of this room hold of people, what its emails are, and look at them in time."""
        from server.mail.readers import reads_broadcasts

        from . import going, personal  # noqa: F401
        from .sending import own_broadcasts

        reads_broadcasts(own_broadcasts)
