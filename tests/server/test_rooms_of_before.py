"""A database of the time before the rooms is taken over as it is, with what waits in it."""

from django.core.management import call_command
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder
from django.test import TestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from server.config.rooms import APPLIED, TABLES, TASKS, take_over_rooms
from server.submissions.models import Submission
from tests.world import make_world


class TakenOver(TestCase):
    def test_tables_jobs_and_migrations(self) -> None:
        world = make_world()
        waiting = world.submit("ines@example.com")
        self.before_the_rooms()
        with connection.cursor() as cursor:
            cursor.execute(
                "INSERT INTO procrastinate_jobs (queue_name, task_name, status) VALUES"
                " ('intake', 'intake.find_lost', 'todo')"
            )
        self.assertTrue(take_over_rooms())
        self.assertEqual(Submission.everywhere.get().pk, waiting.pk)
        job = ProcrastinateJob.objects.get(args__submission_id=str(waiting.pk))
        self.assertEqual((job.task_name, job.queue_name), ("routing.route_one", "routing"))
        self.assertFalse(ProcrastinateJob.objects.filter(task_name="intake.find_lost").exists())
        self.assertFalse(take_over_rooms(), "once only")
        # What Django would bring up to date now: nothing.
        call_command("migrate", check=True, verbosity=0)

    def before_the_rooms(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            for table, room in TABLES.items():
                cursor.execute(f"ALTER TABLE {room}_{table} RENAME TO intake_{table}")
            for before, now in TASKS.items():
                cursor.execute(
                    "UPDATE procrastinate_jobs SET task_name = %s, queue_name = 'intake'"
                    " WHERE task_name = %s",
                    [before, now],
                )
            cursor.execute("DROP INDEX submission_answers")
        recorder = MigrationRecorder(connection)
        for app, name in APPLIED:
            recorder.record_unapplied(app, name)
        recorder.record_applied("intake", "0007_lean_indexes_and_archive")
