from django.apps import AppConfig


class SequencesConfig(AppConfig):
    name = "server.sequences"
