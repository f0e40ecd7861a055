"""Watched sheets, at the sheet host of the outside world, over HTTP; and where nothing is fetched."""

import urllib.request
from typing import Any
from urllib.parse import urlencode

from django.test import TestCase, override_settings

from core.deciding import RouteDocument
from core.documents import Problem
from server.imports.fetching import fetch
from server.imports.sheets import look, set_watch
from server.routes.actions import turn_on
from server.snags.models import Snag
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source, Watch
from server.submissions.models import Submission
from server.workspaces.errors import Refused
from tests.outside_world import Outside
from tests.world import make_world


class SheetHost(Outside):
    """A mixin: the sheet host of the outside world."""

    def change(self, **what: Any) -> None:
        """Change the sheet as somebody who keeps it does."""
        data = urlencode(what, doseq=True).encode()
        urllib.request.urlopen(f"{self.host}/sheets/volunteers/", data, timeout=10)


class Sheets(SheetHost, TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        workspace = self.world.workspace
        fields = {one.key: str(one.pk) for one in workspace.field_set.all()}
        self.source = make_source(
            workspace, "Volunteers", self.world.member, kind=Source.Kind.SHEET
        )
        document = RouteDocument.model_validate(
            {
                "read_as": [
                    {"id": "r1", "question": "Email", "field": fields["email"]},
                    {"id": "r2", "question": "Name", "field": fields["first_name"]},
                ]
            }
        )
        save_route_draft(self.source, document, 1, None)
        turn_on(self.source, None)
        self.watch = set_watch(self.source.watch, f"{self.host}/sheets/volunteers.csv", 15, "Email")

    def look(self) -> Watch:
        return look(str(self.watch.pk))

    def test_each_row_comes_in_once(self) -> None:
        before = self.look().rows
        self.assertEqual(Submission.everywhere.filter(source=self.source).count(), before)
        self.assertEqual(self.look().came, 0)
        # Inserted in the middle, and a row that is edited.
        self.change(do="insert", cell=["Ada", f"ada{before}@example.com", "Tea", ""])
        found = self.look()
        self.assertEqual((found.came, found.rows), (1, before + 1))
        self.assertEqual(self.look().came, 0)

    def test_the_same_as_a_spreadsheet(self) -> None:
        rows = self.look().rows
        set_watch(self.watch, f"{self.host}/sheets/volunteers.xlsx", 15, "Email")
        found = self.look()
        self.assertIsNone(found.problem)
        # The keys are the same, so nothing comes twice.
        self.assertEqual((found.rows, found.came), (rows, 0))

    def test_a_changed_heading_is_a_snag_with_its_fix_and_nothing_is_lost(self) -> None:
        self.look()
        self.change(do="rename", **{"from": "Email", "to": "E-Mail"})
        self.change(do="add", cell=["Bo", "bo.waits@example.com", "", ""])
        try:
            found = self.look()
            self.assertEqual(found.came, 0)
            assert found.problem is not None
            self.assertEqual(found.problem["code"], "heading_changed")
            self.assertIn("“E-Mail”", found.problem["sentence"])
            snag = Snag.objects.of(self.world.workspace).get(about="sheet", closed_at=None)
            self.assertIn("Volunteers", snag.sentence)
        finally:
            self.change(do="rename", **{"from": "E-Mail", "to": "Email"})
        self.assertEqual(self.look().came, 1)
        snag.refresh_from_db()
        self.assertIsNotNone(snag.closed_at)

    def test_without_a_key_nothing_comes_in(self) -> None:
        set_watch(self.watch, self.watch.address, 15, "")
        found = self.look()
        assert found.problem is not None
        self.assertEqual((found.problem["code"], found.came), ("no_key", 0))

    def test_a_sheet_that_is_not_there(self) -> None:
        set_watch(self.watch, f"{self.host}/sheets/none.csv", 15, "Email")
        found = self.look()
        assert found.problem is not None
        self.assertEqual(found.problem["code"], "not_there")
        self.assertIsNotNone(found.next_at)

    def test_how_often(self) -> None:
        with self.assertRaises(Refused):
            set_watch(self.watch, self.watch.address, 0, "Email")

    def test_hosts_that_the_settings_do_not_allow(self) -> None:
        with override_settings(FETCH_HOSTS=[]):
            found = fetch(f"{self.host}/sheets/volunteers.csv")
        assert isinstance(found, Problem)
        self.assertEqual(found.code, "private_network")


class Private(TestCase):
    """Nothing is fetched from private, loopback or link-local networks (RFC 1918, 4193, 3927)."""

    def test_addresses_of_private_networks(self) -> None:
        for address in (
            "http://127.0.0.1/x",
            "http://localhost:8400/x",
            "http://[::1]/x",
            "http://10.0.0.1/",
            "http://192.168.1.1/",
            "http://169.254.169.254/latest/meta-data",
            "http://0.0.0.0/",
            "http://[::ffff:127.0.0.1]/",
            "http://2130706433/",
        ):
            found = fetch(address)
            assert isinstance(found, Problem), address
            self.assertIn(found.code, ("private_network", "no_such_host"), address)

    def test_what_is_no_address_of_the_web(self) -> None:
        for address in ("file:///etc/passwd", "ftp://example.org/x", "gopher://x", "x", ""):
            found = fetch(address)
            assert isinstance(found, Problem)
            self.assertEqual(found.code, "not_an_address")
