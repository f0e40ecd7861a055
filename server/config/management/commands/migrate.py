"""Django's own command, after a database of the time before the rooms has been taken over."""

from typing import Any

from django.core.management.commands import migrate

from server.config.rooms import take_over_rooms


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        if take_over_rooms():
            self.stdout.write("The tables of the intake belong to their rooms now.")
        super().handle(*args, **options)
