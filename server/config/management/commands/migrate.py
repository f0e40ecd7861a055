"""Django's own command, after a database of the time before the rooms has been taken over, or an
empty one has been given its tables at once; then the parts of the trail that the next months need are
made, and the role that serves (YALLA_DB_SERVING_USER) is given what it needs."""

import os
from pathlib import Path

from django.core.management.commands import migrate
from django.db import connection, transaction

from server.config.rooms import take_over_rooms
from server.workspaces.partitions import is_parted, make_months
from server.workspaces.roles import grant_serving
from server.workspaces.shapes import Json

_TABLES = Path(__file__).resolve().parents[3] / "tables.sql"
"""The tables as the migrations leave them; `python -m launch.tables` writes and checks them."""


class Command(migrate.Command):
    def handle(self, *args: object, **options: object) -> None:
        if take_over_rooms():
            self.stdout.write("The tables of the intake belong to their rooms now.")
        if _all_of_it(options) and _is_empty():
            _make_tables()
        super().handle(*args, **options)
        if is_parted("people_fact"):
            make_months("people_fact")
        role = os.environ.get("YALLA_DB_SERVING_USER", "")
        if role and _all_of_it(options):
            grant_serving(role, os.environ.get("YALLA_DB_SERVING_PASSWORD", ""))


def _all_of_it(options: Json) -> bool:
    """Whether every migration is asked for, and to be carried out."""
    less = ("app_label", "plan", "check_unapplied", "fake", "fake_initial", "run_syncdb", "prune")
    return not os.environ.get("YALLA_BY_STEPS") and not any(options.get(one) for one in less)


def _is_empty() -> bool:
    return not connection.introspection.table_names()


@transaction.atomic
def _make_tables() -> None:
    """Make all tables; migrations that are newer than the file are carried out after it."""
    with connection.cursor() as cursor:
        # A function may stand before the tables that it reads.
        cursor.execute("SET LOCAL check_function_bodies = off")
        cursor.execute(_TABLES.read_text())
