"""System checks of the whole server."""

from django.apps import apps
from django.core.checks import CheckMessage, Error, register

from server.workspaces.personal import unregistered


@register()
def every_model_says_what_it_holds(app_configs: object, **_: object) -> list[CheckMessage]:
    """A model of ours that is not registered could keep what somebody had erased."""
    ours = [
        model
        for config in apps.get_app_configs()
        if config.name.startswith("server.")
        for model in config.get_models()
    ]
    return [
        Error(
            f"Nothing says what erasing does to {model._meta.label}.",
            hint="Register it in the personal.py of its room: holds_people or holds_nobody.",
            id="yalla.E001",
        )
        for model in unregistered(ours)
    ]
