from django.apps import AppConfig


class MailConfig(AppConfig):
    name = "server.mail"
