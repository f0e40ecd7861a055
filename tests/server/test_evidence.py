"""Evidence that nobody changes unnoticed: the database refuses, the chain tells, the record is signed."""

import json
import tempfile
from base64 import urlsafe_b64decode
from datetime import date
from hashlib import sha256
from io import StringIO
from pathlib import Path
from typing import Any

import psycopg
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey
from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import IntegrityError, connection, connections, transaction
from django.test import Client, TestCase, TransactionTestCase, override_settings
from django.utils import timezone

from core.documents import Because
from server.people.chain import broken_chains, content_of
from server.people.journal import write_heads
from server.people.memberships import unsubscribe
from server.people.models import Evidence, EvidenceReleased
from server.people.record import record_of
from server.people.signing import signed_record
from server.profiles.erasing import erase
from server.profiles.merges import merge_people, undo_merge
from server.workspaces.partitions import make_months
from server.workspaces.roles import grant_serving
from tests.world import BACKEND, make_world

OWN = Because(kind="person", sentence="they said so")


def decoded(part: str) -> bytes:
    return urlsafe_b64decode(part + "=" * (-len(part) % 4))


class Chain(TestCase):
    def setUp(self) -> None:
        # The journal of this test alone: that of the run knows chains of other databases.
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(override_settings(EVIDENCE_JOURNAL=folder))
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")
        unsubscribe(self.person, None, OWN, "email")
        self.world.arrive("ines@example.com", look="moon")

    def broken(self) -> list[tuple[int, str]]:
        return [(one.number, one.why) for _, one in broken_chains(self.world.workspace)]

    def by_force(self, statement: str) -> None:
        """As somebody would who has the database."""
        with connection.cursor() as cursor:
            cursor.execute("SET LOCAL session_replication_role = replica")
            cursor.execute(statement)
            cursor.execute("SET LOCAL session_replication_role = origin")

    def test_rows_are_linked_one_to_the_next(self) -> None:
        rows = list(Evidence.everywhere.order_by("number"))
        self.assertEqual([one.number for one in rows], [1, 2, 3])
        self.assertEqual([one.previous for one in rows], ["", rows[0].hash, rows[1].hash])
        self.assertEqual(self.broken(), [])
        out = StringIO()
        call_command("verify_evidence", stdout=out)
        self.assertIn("Every chain holds", out.getvalue())

    def test_the_database_refuses_every_change(self) -> None:
        for statement in (
            "UPDATE people_evidence SET wording = 'x'",
            "UPDATE people_evidence SET at = now()",
            "UPDATE people_evidence SET hash = ''",
            "UPDATE people_evidence SET membership_id = membership_id",
            "DELETE FROM people_evidence",
        ):
            with (
                self.subTest(statement=statement),
                self.assertRaises(IntegrityError),
                transaction.atomic(),
                connection.cursor() as cursor,
            ):
                cursor.execute(statement)

    def test_not_even_a_merge_may_change_what_they_say(self) -> None:
        with self.assertRaises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT set_config('yalla.evidence', 'merging', true)")
            cursor.execute("UPDATE people_evidence SET wording = 'x'")

    def test_a_row_changed_by_force_is_found_out(self) -> None:
        self.by_force("UPDATE people_evidence SET wording = 'They agreed to all' WHERE number = 2")
        self.assertEqual(self.broken(), [(2, "changed")])
        out = StringIO()
        with self.assertRaises(CommandError):
            call_command("verify_evidence", self.world.workspace.slug, stdout=out)
        self.assertIn("entry 2: changed", out.getvalue())
        (held,) = record_of(self.person)["lists"]
        self.assertIn("entry 2", held["evidence_holds"])

    def test_a_row_removed_by_force_is_found_out_wherever_it_stood(self) -> None:
        for number in (1, 2, 3):
            with self.subTest(number=number), transaction.atomic():
                self.by_force(f"DELETE FROM people_evidence WHERE number = {number}")
                self.assertEqual(self.broken(), [(number, "missing")])
                transaction.set_rollback(True)

    def test_a_merge_moves_whole_chains_and_undoing_gives_them_back(self) -> None:
        other = self.world.arrive("noor@example.com")
        hashes = set(Evidence.everywhere.values_list("hash", flat=True))
        merge = merge_people(self.person, other, frozenset(), OWN)
        self.assertEqual(self.broken(), [])
        self.assertLessEqual(hashes, set(Evidence.everywhere.values_list("hash", flat=True)))
        undo_merge(merge, OWN)
        self.assertEqual(self.broken(), [])

    def test_erasing_takes_the_chain_and_breaks_no_other(self) -> None:
        self.world.arrive("noor@example.com")
        erase(self.person)
        self.assertEqual(Evidence.everywhere.count(), 1)
        self.assertEqual(self.broken(), [])


class Record(TestCase):
    """Checked by hand with RFC 7515, 7517 and 8032, not by the package that signs."""

    def setUp(self) -> None:
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")

    def key(self, kid: str) -> Ed25519PublicKey:
        keys = Client().get("/.well-known/jwks.json").json()["keys"]
        (found,) = (one for one in keys if one["kid"] == kid)
        self.assertEqual((found["kty"], found["crv"]), ("OKP", "Ed25519"))
        return Ed25519PublicKey.from_public_bytes(decoded(found["x"]))

    def test_it_says_what_was_agreed_to_and_who_signs(self) -> None:
        self.client.force_login(self.world.user, BACKEND)
        at = f"/api/workspaces/{self.world.workspace.slug}/people/{self.person.pk}/consent.jws"
        head, body, signature = self.client.get(at).content.decode().split(".")
        header = json.loads(decoded(head))
        self.assertEqual(header["alg"], "EdDSA")
        self.key(header["kid"]).verify(decoded(signature), f"{head}.{body}".encode())
        record = json.loads(decoded(body))
        self.assertEqual(record["record_header"]["pii_principal_id"], "ines@example.com")
        (purpose,) = record["pii_processing"]
        (event,) = purpose["events"]
        self.assertEqual(
            (event["event_state"], event["notice_wording"]), ("given", "You also get the news.")
        )
        self.assertEqual(event["evidence_hash"], Evidence.everywhere.get().hash)

    def test_a_changed_record_does_not_hold(self) -> None:
        head, body, signature = signed_record(self.person).split(".")
        kid = json.loads(decoded(head))["kid"]
        with self.assertRaises(InvalidSignature):
            self.key(kid).verify(decoded(signature), f"{head}.{body[:-2]}AA".encode())

    def test_an_old_record_can_be_checked_after_the_key_was_replaced(self) -> None:
        head, body, signature = signed_record(self.person).split(".")
        with override_settings(SIGNING_KEYS=["new", "only-for-tests"]):
            self.key(json.loads(decoded(head))["kid"]).verify(
                decoded(signature), f"{head}.{body}".encode()
            )
            newer = signed_record(self.person).split(".")[0]
            self.assertNotEqual(json.loads(decoded(newer))["kid"], json.loads(decoded(head))["kid"])


class OutsideOfTheDatabase(TestCase):
    """Whoever has the database, and knows the code, and not the keys."""

    def setUp(self) -> None:
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")
        unsubscribe(self.person, None, OWN, "email")
        self.world.arrive("ines@example.com", look="moon")
        self.other = self.world.arrive("noor@example.com")
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        kept = override_settings(EVIDENCE_JOURNAL=folder.name)
        kept.enable()
        self.addCleanup(kept.disable)
        self.assertEqual(write_heads(), 2)

    def verify(self) -> str:
        out = StringIO()
        try:
            call_command("verify_evidence", stdout=out)
        except CommandError as error:
            return f"{out.getvalue()}{error}"
        return out.getvalue()

    def by_force(self, *statements: str) -> None:
        with connection.cursor() as cursor:
            cursor.execute("SET LOCAL session_replication_role = replica")
            for one in statements:
                cursor.execute(one)
            cursor.execute("SET LOCAL session_replication_role = origin")

    def test_hashes_made_anew_without_the_key_do_not_hold(self) -> None:
        rows = list(
            Evidence.everywhere.filter(membership__subscriber=self.person).order_by("number")
        )
        rows[1].wording, previous = "They agreed to all", ""
        statements = []
        for row in rows:
            row.previous = previous
            content = json.dumps(
                content_of(row), sort_keys=True, separators=(",", ":"), ensure_ascii=False
            )
            previous = sha256(content.encode()).hexdigest()
            statements.append(
                f"UPDATE people_evidence SET wording = '{row.wording}', previous = '{row.previous}', "
                f"hash = '{previous}' WHERE id = '{row.pk}'"
            )
        self.by_force(*statements)
        self.assertIn("entry 1: changed", self.verify())

    def test_the_last_entry_taken_off(self) -> None:
        before = Evidence.everywhere.get(membership__subscriber=self.person, number=2).after
        self.by_force(
            "DELETE FROM people_evidence WHERE number = 3",
            f"UPDATE people_membership SET state = '{before}' WHERE subscriber_id = '{self.person.pk}'",
        )
        said = self.verify()
        self.assertIn("entry 3: missing, by the journal", said)

    def test_a_whole_chain_gone_and_an_older_copy(self) -> None:
        pk = self.other.pk
        self.by_force(
            f"DELETE FROM people_evidence WHERE membership_id IN (SELECT id FROM people_membership WHERE subscriber_id = '{pk}')",
            f"UPDATE people_membership SET state = 'none' WHERE subscriber_id = '{pk}'",
        )
        self.assertIn("entry 1: missing, by the journal", self.verify())
        # A copy of before anything was there.
        self.by_force("DELETE FROM people_evidence", "DELETE FROM people_membership")
        self.assertEqual(self.verify().count("by the journal"), 2)

    def test_a_note_of_release_that_is_not_ours_excuses_nothing(self) -> None:
        chain = Evidence.everywhere.get(membership__subscriber=self.other).chain
        self.by_force(
            f"DELETE FROM people_evidence WHERE chain = '{chain}'",
            f"DELETE FROM people_membership WHERE subscriber_id = '{self.other.pk}'",
        )
        EvidenceReleased.everywhere.create(
            workspace=self.world.workspace,
            chain=chain,
            at=timezone.now(),
            signature=sha256(str(chain).encode()).hexdigest(),
        )
        self.assertIn("by the journal", self.verify())

    def test_erasing_and_merging_are_no_tampering(self) -> None:
        third = self.world.arrive("third@example.com")
        write_heads()
        merge_people(self.person, self.other, frozenset(), OWN)
        erase(third)
        self.assertIn("Every chain holds", self.verify())
        write_heads()
        erase(self.person)
        self.assertIn("Every chain holds", self.verify())
        self.assertFalse(Evidence.everywhere.exists())

    def test_what_is_written_later_is_in_the_next_look(self) -> None:
        unsubscribe(self.other, None, OWN, "email")
        self.assertGreaterEqual(write_heads(), 1)
        self.by_force("DELETE FROM people_evidence WHERE number = 2")
        self.assertIn("by the journal", self.verify())

    def test_a_journal_that_was_changed(self) -> None:
        [file] = Path(settings.EVIDENCE_JOURNAL).glob("heads-*.jsonl")
        lines = file.read_text().splitlines()
        file.write_text("\n".join([lines[1], lines[0]]) + "\n")
        self.assertIn("is not as it was written, from line 1 on", self.verify())

    def test_truncate_is_refused(self) -> None:
        with connection.cursor() as cursor:
            # Checks that wait for the end of the transaction would be in the way.
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            for statement in ("TRUNCATE people_evidence", "TRUNCATE people_membership CASCADE"):
                with self.assertRaises(IntegrityError), transaction.atomic():
                    cursor.execute(statement)


class Serving(TransactionTestCase):
    """The role that serves, on a connection of its own."""

    ROLE = "yalla_serving_in_tests"

    def setUp(self) -> None:
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com")
        grant_serving(self.ROLE, "a password")
        self.addCleanup(self.drop)

    def drop(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute(f"DROP OWNED BY {self.ROLE}")
            cursor.execute(f"DROP ROLE {self.ROLE}")

    def as_serving(self) -> Any:
        of = connection.settings_dict
        return psycopg.connect(
            host=of["HOST"],
            port=of["PORT"],
            dbname=of["NAME"],
            user=self.ROLE,
            password="a password",
            autocommit=True,
        )

    def test_it_may_do_nothing_that_would_hide_a_change(self) -> None:
        with self.as_serving() as serving:
            for statement in (
                "TRUNCATE people_evidence",
                "TRUNCATE people_membership CASCADE",
                "ALTER TABLE people_evidence DISABLE TRIGGER evidence_is_kept",
                "ALTER TABLE people_evidence DISABLE TRIGGER ALL",
                "DROP TRIGGER evidence_is_kept ON people_evidence",
                "SET session_replication_role = replica",
                "UPDATE people_evidence SET wording = 'x'",
                "DELETE FROM people_evidence",
                "DELETE FROM people_evidencereleased",
                "CREATE OR REPLACE FUNCTION guard_evidence() RETURNS trigger LANGUAGE sql AS ''",
                "DROP TABLE people_evidence",
                "UPDATE django_migrations SET name = 'x'",
                "CREATE ROLE another",
                "SELECT make_part('people_subscriber', 'people_fact_2031_01', gen_random_uuid(), gen_random_uuid())",
            ):
                with self.subTest(statement=statement), self.assertRaises(psycopg.Error):
                    serving.execute("SELECT set_config('yalla.evidence', 'erasing', false)")
                    serving.execute(statement)
            owned = serving.execute(
                "SELECT count(*) FROM pg_class WHERE relowner = (SELECT oid FROM pg_roles WHERE rolname = current_user)"
            ).fetchone()
            self.assertEqual(owned, (0,))
        self.assertEqual(Evidence.everywhere.count(), 1)

    def test_everything_else_works_as_it(self) -> None:
        """Routing, sending, merging, erasing, months of the trail: as the server does them."""
        of = connections["default"].settings_dict
        before = (of["USER"], of["PASSWORD"])
        connection.close()
        of["USER"], of["PASSWORD"] = self.ROLE, "a password"
        try:
            other = self.world.arrive("noor@example.com", first_name="Noor")
            merge = merge_people(other, self.person, frozenset(), OWN)
            undo_merge(merge, OWN)
            self.person.refresh_from_db()
            self.person.workspace = self.world.workspace
            erase(self.person)
            made = make_months("people_fact", None, date(2033, 1, 1))
            self.assertEqual(len(made), 4)
            self.assertEqual([one.why for _, one in broken_chains(self.world.workspace)], [])
        finally:
            connection.close()
            of["USER"], of["PASSWORD"] = before
        self.assertEqual(Evidence.everywhere.count(), 1)
