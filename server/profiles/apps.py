from django.apps import AppConfig


class ProfilesConfig(AppConfig):
    name = "server.profiles"
