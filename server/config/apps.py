from django.apps import AppConfig


class ServerConfig(AppConfig):
    name = "server.config"

    def ready(self) -> None:
        """Register the checks of the whole server."""
        from . import checks  # noqa: F401
