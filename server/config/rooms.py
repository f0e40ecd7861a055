"""A database of the time when one room, `intake`, had the tables that eight rooms have now."""

from django.db import connection, transaction

from server.workspaces.errors import Refused

TABLES = {
    "source": "sources",
    "routerevision": "sources",
    "watch": "sources",
    "submission": "submissions",
    "fileimport": "submissions",
    "filepart": "imports",
    "refusedrow": "imports",
    "call": "webhooks",
    "picture": "forms",
    "replay": "replays",
    "replayline": "replays",
}
"""The room of each table."""
TASKS = {
    "intake.route_one": "routing.route_one",
    "intake.tell_member": "routing.tell_member",
    "intake.work_on_file": "imports.work_on_file",
    "intake.look_at_sheet": "imports.look_at_sheet",
    "intake.work_on_replay": "replays.work_on_replay",
    "intake.erase_person": "profiles.erase_person",
    "intake.change_address_of": "profiles.change_address_of",
}
PERIODIC = [
    "intake.find_lost",
    "intake.forget",
    "intake.look_at_sheets",
    "mail.settle_abandoned",
]
APPLIED = (
    ("sources", "0001_initial"),
    ("submissions", "0001_initial"),
    ("forms", "0001_initial"),
    ("forms", "0002_initial"),
    ("imports", "0001_initial"),
    ("imports", "0002_initial"),
    ("replays", "0001_initial"),
    ("replays", "0002_initial"),
    ("webhooks", "0001_initial"),
)
_LAST = "0007_lean_indexes_and_archive"
_ANSWERS = """
CREATE INDEX IF NOT EXISTS submission_answers
ON submissions_submission USING gin (upper(answers::text) gin_trgm_ops)
"""


def take_over_rooms() -> bool:
    """Give the tables, jobs and migrations of the old room to the new ones; whether there were any.

    Nothing is copied: tables are renamed, in one transaction.
    """
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SELECT to_regclass('intake_source'), to_regclass('django_migrations')")
        old, migrations = cursor.fetchone()
        if not old or not migrations:
            return False
        cursor.execute(
            "SELECT 1 FROM django_migrations WHERE app = 'intake' AND name = %s", [_LAST]
        )
        if cursor.fetchone() is None:
            raise Refused(
                "This database is older than can be taken over. Bring it up to date with the revision "
                "before the rooms first, then with this one."
            )
        for table, room in TABLES.items():
            cursor.execute(f"ALTER TABLE intake_{table} RENAME TO {room}_{table}")
            cursor.execute(
                "UPDATE django_content_type SET app_label = %s WHERE app_label = 'intake' AND model = %s",
                [room, table],
            )
        cursor.execute(_ANSWERS)
        for before, now in TASKS.items():
            cursor.execute(
                "UPDATE procrastinate_jobs SET task_name = %s WHERE task_name = %s", [now, before]
            )
        cursor.execute(
            "UPDATE procrastinate_jobs SET queue_name = 'routing' WHERE queue_name = 'intake'"
        )
        # What is asked for again and again is asked for anew by the rooms.
        cursor.execute(
            "DELETE FROM procrastinate_jobs WHERE status = 'todo' AND task_name = ANY(%s)",
            [PERIODIC],
        )
        cursor.execute("DELETE FROM django_migrations WHERE app = 'intake'")
        for app, name in APPLIED:
            cursor.execute(
                "INSERT INTO django_migrations (app, name, applied) VALUES (%s, %s, now())",
                [app, name],
            )
    return True
