"""Erased is erased everywhere: the whole database is dumped as text, and nothing of them is in it."""

import re
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import mock

from django.core.checks import run_checks
from django.db import connection
from django.test import SimpleTestCase, TestCase, override_settings

from core.documents import Because
from server.config.checks import every_model_says_what_it_holds
from server.imports import imports
from server.people.erased import erased_at
from server.people.models import Erased, Subscriber
from server.profiles.erasing import erase
from server.routing.routing import route_submission
from server.snags.actions import report
from server.snags.models import Snag
from server.submissions.log import hold, release
from server.submissions.models import FileImport, Submission
from server.workspaces import clock, personal
from server.workspaces.personal import handling
from tests.server.test_files import FileCase
from tests.world import make_world

OWN = Because(kind="person", sentence="they said so")
ADDRESS = "zebedee@example.com"
ANSWERS = {"first_name": "Zebedee", "look": "moon", "utm_source": "zq-campaign"}
TRACES = re.compile(r"zebedee|zq-campaign", re.IGNORECASE)


def dump() -> dict[str, str]:
    """Every row of every table as text, binary columns as the text that is in them."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'")
        tables = [name for (name,) in cursor.fetchall()]
        found = {}
        for table in tables:
            cursor.execute(f'SELECT * FROM "{table}"')
            rows = []
            for row in cursor.fetchall():
                rows.append(
                    " ".join(
                        bytes(one).decode("latin-1")
                        if isinstance(one, bytes | memoryview)
                        else str(one)
                        for one in row
                    )
                )
            found[table] = "\n".join(rows)
    return found


class Everywhere(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace

    def traces(self) -> list[str]:
        return sorted(name for name, text in dump().items() if TRACES.search(text))

    def test_the_dump_sees_what_is_there(self) -> None:
        self.world.arrive(ADDRESS, **ANSWERS)
        self.assertLessEqual(
            {"submissions_submission", "people_subscriber", "people_fact"}, set(self.traces())
        )

    def test_held_stuck_and_waiting_submissions(self) -> None:
        person = self.world.arrive(ADDRESS, **ANSWERS)
        held = self.world.submit(ADDRESS, **{**ANSWERS, "look": "planets"})
        hold(self.workspace, [held.pk], "it came too fast")
        waiting = self.world.submit(ADDRESS.upper(), **{**ANSWERS, "first_name": "zebedee"})
        stuck = self.world.submit("not an address", **ANSWERS)
        Submission.everywhere.filter(pk=stuck.pk).update(
            state="stuck", answers=[["mail", ADDRESS], ["first_name", "Zebedee"]]
        )
        snag = report(
            self.workspace, Snag.About.SUBMISSION, "c", f"Telescope: {ADDRESS} has no name."
        )
        erase(person)
        self.assertEqual(self.traces(), [])
        self.assertEqual(release(self.workspace, [held.pk]), 0)
        for one in (held, waiting, stuck):
            route_submission(str(one.pk))
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())
        # Other people's emails may wait for the same fix.
        snag.refresh_from_db()
        self.assertIn("somebody who was erased has no name", snag.sentence)

    def test_what_was_sent_before_and_is_decided_after_makes_nobody(self) -> None:
        person = self.world.arrive(ADDRESS, **ANSWERS)
        late = self.world.submit(ADDRESS, **{**ANSWERS, "look": "planets"})
        with mock.patch("server.submissions.personal._erase_submissions"):
            # As if it had been stored in another place at that very moment.
            erase(person)
        route_submission(str(late.pk))
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())

    def test_others_stay_as_they_are(self) -> None:
        person = self.world.arrive(ADDRESS, **ANSWERS)
        other = self.world.arrive("noor@example.com", first_name="Noor")
        stuck = self.world.submit("ada@example.com")
        snag = report(self.workspace, Snag.About.SUBMISSION, "c", f"{ADDRESS} and others.")
        Submission.everywhere.filter(pk=stuck.pk).update(state="stuck", snag=snag)
        erase(person)
        stuck.refresh_from_db()
        self.assertEqual(stuck.snag, snag)
        self.assertEqual(other.submissions.get().answers[0], ["email", "noor@example.com"])

    def test_a_new_key_forgets_no_erasure(self) -> None:
        person = self.world.arrive(ADDRESS)
        erase(person)
        old = Erased.objects.of(self.workspace).get().key
        with override_settings(ERASURE_KEYS=["newer", "only-for-tests"], SECRET_KEY="other"):
            self.assertEqual(set(erased_at(self.workspace, [ADDRESS])), {ADDRESS})
            erase(self.world.arrive(ADDRESS, look="moon"))
            self.assertNotEqual(Erased.objects.of(self.workspace).get().key, old)
        with override_settings(ERASURE_KEYS=["newer"]):
            self.assertEqual(set(erased_at(self.workspace, [ADDRESS])), {ADDRESS})


class InFiles(FileCase):
    """The parts of a file hold people as they came."""

    def put_one(self) -> FileImport:
        return self.put(f"Email,Name\r\n{ADDRESS},Zebedee\r\nnoor@example.com,Noor\r\n".encode())

    def test_a_file_that_waits_goes(self) -> None:
        row = self.put_one()
        other = self.put(b"Email,Name\r\nnoor@example.com,Noor\r\n")
        erase(self.world.arrive(ADDRESS))
        row.refresh_from_db()
        self.assertEqual((row.state, row.parts.count()), ("failed", 0))
        self.assertIn("erased", row.failure)
        self.assertEqual(other.parts.count(), 1)

    def test_one_that_is_being_put_in_goes_when_it_is_stopped(self) -> None:
        row = self.put_one()
        self.count(row)
        imports.start_running(row, "yes", None)
        erase(self.world.arrive(ADDRESS))
        self.assertEqual(row.parts.count(), 1)
        row.refresh_from_db()
        imports.cancel(row)
        self.assertEqual(row.parts.count(), 0)

    def test_files_that_nobody_works_on_go_after_seven_days(self) -> None:
        row = self.put_one()
        self.assertEqual(imports.forget_files(self.workspace), 0)
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(days=8))
        self.assertEqual(imports.forget_files(self.workspace), 1)
        self.assertEqual(row.parts.count(), 0)


class Registry(TestCase):
    def test_every_model_is_registered(self) -> None:
        self.assertEqual([one for one in run_checks() if one.id == "yalla.E001"], [])

    def test_a_model_that_is_not_is_an_error(self) -> None:
        said: Any = dict(personal._HANDLING)
        del said[Submission]
        with mock.patch.object(personal, "_HANDLING", said):
            (found,) = every_model_says_what_it_holds(None)
        self.assertIn("submissions.Submission", found.msg)


class Documents(SimpleTestCase):
    def test_the_page_on_data_says_what_is_registered(self) -> None:
        page = (Path(__file__).resolve().parents[2] / "docs" / "data.md").read_text()
        for model, one in handling().items():
            words = " | ".join((one.erasing, one.merging, one.exporting, one.retention))
            self.assertRegex(
                page, rf"\| `{model._meta.db_table}` \| [^|]+ \| {re.escape(words)} \|", str(model)
            )
