from django.apps import AppConfig


class SequencesConfig(AppConfig):
    name = "server.sequences"

    def ready(self) -> None:
        """Say what the rows of this room hold of people, and listen to what becomes of them."""
        from server.mail.readers import reads_people

        from . import listening, personal, using  # noqa: F401
        from .facts import catalogue_of, own_sending_of, senders_of
        from .people import full_people

        reads_people(full_people, catalogue_of, senders_of, own_sending_of)
