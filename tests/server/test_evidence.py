"""Evidence that nobody changes unnoticed: the database refuses, the chain tells, the record is signed."""

import json
from base64 import urlsafe_b64decode
from io import StringIO

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey
from django.core.management import CommandError, call_command
from django.db import IntegrityError, connection, transaction
from django.test import Client, TestCase, override_settings

from core.documents import Because
from server.people.actions import unsubscribe
from server.people.chain import broken_chains
from server.people.models import Evidence
from server.people.record import record_of
from server.people.signing import signed_record
from server.profiles.erasing import erase
from server.profiles.merges import merge_people, undo_merge
from tests.world import BACKEND, make_world

OWN = Because(kind="person", sentence="they said so")


def decoded(part: str) -> bytes:
    return urlsafe_b64decode(part + "=" * (-len(part) % 4))


class Chain(TestCase):
    def setUp(self) -> None:
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
