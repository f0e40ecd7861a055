from django.apps import AppConfig


class ServerConfig(AppConfig):
    name = "server.config"

    def ready(self) -> None:
        """Register the checks of the whole server, and how it reads times."""
        from . import checks  # noqa: F401
        from .times import load_times_compiled

        load_times_compiled()
