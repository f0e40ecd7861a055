"""Settings that are saved as a whole: a save on what somebody else has changed meanwhile is refused."""

import threading
from collections.abc import Callable
from typing import Any

from django.db import connections
from django.test import Client, TransactionTestCase

from server.mail.pictures import add_picture
from server.services.connecting import connect
from server.services.described import shipped
from server.sources.actions import make_source
from server.sources.models import Source
from server.workspaces.forms import saving
from tests.server.test_at_once import at_once
from tests.server.test_letters import png
from tests.server.test_references import Api
from tests.world import BACKEND, make_world

Form = dict[str, Any]


class Versions(Api):
    """Every form there is, saved by two members who have seen the same."""

    def forms(self) -> dict[str, tuple[str, Callable[[], Form], Form, Form]]:
        """By name: where it is saved, how it is loaded, and what two members change in it."""
        workspace, member = self.workspace, self.world.member
        picture = add_picture(workspace, "moon", png(), member)
        service = connect(workspace, "Books", "", next(iter(shipped().values())))
        sheet = make_source(workspace, "Sheet", member, kind=Source.Kind.SHEET)
        field = next(one for one in self.get("/fields") if one["key"] == "first_name")
        news = self.world.news.pk

        def among(path: str, pk: object) -> Callable[[], Form]:
            return lambda: next(one for one in self.get(path) if one["id"] == str(pk))

        def settings() -> Form:
            return {key: value for key, value in self.get("").items() if key != "now"}

        def inside() -> Form:
            answer = self.get(f"/services/{service.pk}")
            return {**answer["settings"], "version": answer["version"]}

        return {
            "settings": ("", settings, {"sender_name": "A"}, {"keeps_ip": True}),
            "mail": (
                "/mail/settings",
                lambda: self.get("/mail/settings"),
                {"hourly_emails": 500},
                {"language": "de"},
            ),
            "picture": (
                f"/mail/pictures/{picture.pk}",
                among("/mail/pictures", picture.pk),
                {"name": "Half moon"},
                {"alt": "A half moon"},
            ),
            "list": (
                f"/lists/{news}",
                among("/lists", news),
                {"name": "Nights"},
                {"public_name": "Open nights"},
            ),
            "sender": (
                f"/lists/{news}/sender",
                lambda: self.get(f"/lists/{news}/sender"),
                {"sender_name": "Noor"},
                {"reply_to": "noor@larkmoor.example"},
            ),
            "field": (
                f"/fields/{field['id']}",
                among("/fields", field["id"]),
                {"label": "Given name"},
                {"label": "Forename"},
            ),
            "service": (
                f"/services/{service.pk}",
                inside,
                {"purpose": "lending"},
                {"poll_minutes": 20},
            ),
            "sheet": (
                f"/sources/{sheet.pk}/watch",
                lambda: self.get(f"/sources/{sheet.pk}/watch"),
                {"minutes": 30},
                {"key_heading": "email"},
            ),
        }

    def test_a_save_on_what_somebody_else_changed_is_refused_and_changes_nothing(self) -> None:
        for name, (path, load, one, other) in self.forms().items():
            with self.subTest(name):
                seen = load()
                first = {**seen, **one, "based_on": seen["version"]}
                self.send("put", path, first)
                kept = load()
                self.assertNotEqual(kept["version"], seen["version"])
                self.send("put", path, {**seen, **other, "based_on": seen["version"]}, 409)
                self.assertEqual(load(), kept)
                # On what is there now it is saved, and what the first one changed stays.
                self.send("put", path, {**kept, **other, "based_on": kept["version"]})
                both = {**kept, **other}
                again = load()
                self.assertEqual(
                    {key: again[key] for key in (*one, *other)},
                    {key: both[key] for key in (*one, *other)},
                )

    def test_what_is_saved_as_it_was_is_the_same_version(self) -> None:
        for name, (path, load, _, _) in self.forms().items():
            with self.subTest(name):
                seen = load()
                self.send("put", path, {**seen, "based_on": seen["version"]})
                self.assertEqual(load()["version"], seen["version"])


class AtOnce(TransactionTestCase):
    """Two members press at the same moment."""

    def test_one_of_two_saves_on_the_same_version_is_refused(self) -> None:
        world = make_world()
        path = f"/api/workspaces/{world.workspace.slug}/mail/settings"

        def member() -> Client:
            client = Client()
            client.force_login(world.user, BACKEND)
            return client

        members = [member(), member()]
        for turn in range(10):
            seen = members[0].get(path).json()
            statuses: list[int] = []

            def save(
                who: int, turn: int = turn, seen: Form = seen, statuses: list[int] = statuses
            ) -> None:
                body = {**seen, "hourly_emails": 1000 * who + turn, "based_on": seen["version"]}
                answer = members[who - 1].put(path, body, content_type="application/json")
                statuses.append(answer.status_code)

            raised = at_once(lambda: save(1), lambda: save(2))
            self.assertEqual((raised, sorted(statuses)), ([], [200, 409]))

    def test_nothing_that_comes_in_waits_for_settings_that_are_saved(self) -> None:
        """What comes in refers to its workspace, which a save has locked for as long as it takes."""
        world = make_world()
        came = threading.Event()

        def visitor() -> None:
            try:
                world.arrive("ines@example.com")
                came.set()
            finally:
                connections.close_all()

        with saving(world.workspace, None, lambda row: ""):
            thread = threading.Thread(target=visitor)
            thread.start()
            in_time = came.wait(20)
        thread.join()
        self.assertTrue(in_time)
