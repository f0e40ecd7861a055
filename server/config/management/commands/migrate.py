"""Django's own command, after a database of the time before the rooms has been taken over; then the
parts of the trail that the next months need are made."""

from typing import Any

from django.core.management.commands import migrate

from server.config.rooms import take_over_rooms
from server.workspaces.partitions import is_parted, make_months


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        if take_over_rooms():
            self.stdout.write("The tables of the intake belong to their rooms now.")
        super().handle(*args, **options)
        if is_parted("people_fact"):
            make_months("people_fact")
