"""Roles are asked for by the actions themselves, and every change by a member is told of."""

import logging
import logging.config
from typing import Any, cast

from django.conf import settings
from django.db import IntegrityError
from django.test import TestCase

from core.deciding import RouteDocument
from server.people.actions import make_tag
from server.people.labels import remove_tag, rename
from server.people.models import Tag
from server.sources.actions import make_source, pause, save_route_draft, shown_revision
from server.workspaces.actions import set_up
from server.workspaces.errors import Forbidden, NotFound, Refused
from server.workspaces.history import acting, changes, who_acts
from server.workspaces.models import HistoryEntry, Member, Role, Workspace
from tests.server.test_references import Api
from tests.world import make_user, make_world


class Actions(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace

    def told(self) -> list[str]:
        rows = HistoryEntry.objects.of(self.workspace).order_by("at", "pk")
        return [one.sentence for one in rows]

    def member(self, role: Role) -> Member:
        user = make_user(f"{role}@larkmoor.example")
        return Member.objects.create(workspace=self.workspace, user=user, role=role)

    def test_a_reader_changes_nothing_whichever_way_they_come(self) -> None:
        with acting(self.member(Role.READER)):
            for action in (
                lambda: make_tag(self.workspace, "new"),
                lambda: pause(self.world.source),
                lambda: make_source(self.workspace, "Another"),
            ):
                with self.assertRaises(Forbidden):
                    action()
        self.assertFalse(Tag.objects.of(self.workspace).filter(name="new").exists())
        self.world.source.refresh_from_db()
        self.assertEqual(self.world.source.state, "live")
        self.assertEqual(self.told(), [])

    def test_settings_are_for_owners(self) -> None:
        same = {
            "name": "X",
            "time_zone": "UTC",
            "sender_name": "",
            "sender_address": "",
            "postal_address": "",
            "keeps_ip": False,
        }
        with acting(self.member(Role.EDITOR)), self.assertRaises(Forbidden):
            set_up(self.workspace, **same)  # type: ignore[arg-type]
        with acting(self.world.member):
            set_up(self.workspace, **same)  # type: ignore[arg-type]
        self.assertEqual(self.told(), ["changed the settings"])

    def test_a_member_of_another_workspace_is_nobody_here(self) -> None:
        other = make_world("Other", "other@larkmoor.example")
        with acting(other.member), self.assertRaises(NotFound):
            make_tag(self.workspace, "new")

    def test_the_sentence_tells_how_it_was(self) -> None:
        tag = make_tag(self.workspace, "old name")
        place = {"tag": str(tag.pk)}
        with acting(self.world.member):
            rename(tag, "new name", "tag")
            remove_tag(tag)
        self.assertEqual(
            self.told(),
            ["renamed the tag “old name” to “new name”", "removed the tag “new name”"],
        )
        entry = HistoryEntry.objects.of(self.workspace).order_by("at").first()
        self.assertEqual((entry.member_name, entry.place), ("noor@larkmoor.example", place))

    def test_what_was_refused_is_not_told(self) -> None:
        with acting(self.world.member), self.assertRaises(Refused):
            make_tag(self.workspace, " ")
        self.assertEqual(self.told(), [])

    def test_a_draft_saved_again_and_again_is_one_entry(self) -> None:
        source = self.world.source
        with acting(self.world.member):
            for _ in range(3):
                save_route_draft(
                    source,
                    RouteDocument.model_validate(shown_revision(source).document),
                    None,
                    self.world.member,
                )
            pause(source)
        self.assertEqual(
            self.told(),
            ["changed the draft of “Telescope guide”", "paused “Telescope guide”"],
        )

    def test_an_action_inside_another_is_part_of_it(self) -> None:
        @changes("did two things")
        def twice(workspace: Workspace) -> None:
            make_tag(workspace, "one")
            make_tag(workspace, "two")

        with acting(self.world.member):
            twice(self.workspace)
        self.assertEqual(self.told(), ["did two things"])

    def test_nobody_acts_after_a_request(self) -> None:
        self.client.force_login(self.world.user, "django.contrib.auth.backends.ModelBackend")
        at = f"/api/workspaces/{self.workspace.slug}/tags"
        answer = self.client.post(at, data='{"name": "x"}', content_type="application/json")
        self.assertEqual(answer.status_code, 200)
        self.assertIsNone(who_acts())


class OverTheApi(Api):
    def test_the_history_is_there_to_read_the_newest_first(self) -> None:
        self.send("post", "/tags", {"name": "first"})
        self.send("post", "/lists", {"name": "second"})
        found = self.get("/history")
        self.assertEqual(
            [one["sentence"] for one in found["entries"]],
            ["made the list “second”", "made the tag “first”"],
        )
        self.assertEqual(self.get("/history?member_name=nobody")["entries"], [])


class Logs(TestCase):
    def written(self, message: str, *, error: Exception | None = None) -> str:
        """A line of the log, by the formatter that the settings name."""
        config = dict(cast(Any, settings.LOGGING)["formatters"]["json"])
        made = logging.config.DictConfigurator({}).configure_formatter(config)  # type: ignore[attr-defined]
        info = (type(error), error, None) if error else None
        record = logging.LogRecord("yalla", logging.ERROR, "", 1, message, None, info)
        return str(made.format(record))

    def test_addresses_and_tokens_are_left_out(self) -> None:
        line = self.written("refused ines.alba@example.com at /u/01a210b1-3b31:x1-y_z23")
        self.assertIn("refused (address) at /u/(token)", line)
        self.assertNotIn("ines", line)
        # The page of a letter as one person got it: what comes after its key is theirs.
        own = self.written("GET /b/x1-y_z23abcdEFGH/AaBb01-_.6720:sig_na-ture was slow")
        self.assertIn("GET /b/(token) was slow", own)

    def test_rows_that_the_database_names_are_left_out(self) -> None:
        try:
            Tag.everywhere.create(
                workspace=make_world().workspace, name="Ines Alba", folded="open night"
            )
            Tag.everywhere.create(
                workspace=Workspace.objects.get(), name="Ines Alba", folded="open night"
            )
        except IntegrityError as error:
            line = self.written("failed", error=error)
        self.assertIn("duplicate key", line)
        self.assertNotIn("open night", line)
