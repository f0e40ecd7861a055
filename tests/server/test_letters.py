"""Messages of blocks: drafts and revisions, for whom blocks are, pictures, tests to oneself, formats;
and what is counted of them, from the email's own bytes over HTTP."""

import io
import re
from datetime import timedelta
from html import unescape
from typing import Any, cast
from unittest import mock

from django.test import Client
from PIL import Image

from core.conditions import Group, HappenedTest, TagTest
from core.messages import (
    ButtonBlock,
    HeadingBlock,
    MessageDocument,
    Parameter,
    PictureBlock,
    TextBlock,
    simple_message,
)
from core.sequences import ClickDoor, EventDoor, Lane, SendStep, SequenceDocument
from server.audiences.query import audience_query
from server.mail.actions import deliver_queued
from server.mail.confirming import set_confirming
from server.mail.counting import click_address, judge_now
from server.mail.editing import save_message, turn_on_changes
from server.mail.models import Send, Touch, live_document
from server.mail.pictures import add_picture
from server.people.models import Fact, Membership, Subscriber
from server.profiles.erasing import erase
from server.sequences import actions as sequences
from server.sequences.facts import catalogue_of
from server.sequences.models import Run
from server.sequences.signals import show_signals
from server.workspaces import clock
from server.workspaces.errors import Conflict
from tests.server.test_references import Api
from tests.world import RealMail, full_person

PERSON = {"HTTP_USER_AGENT": "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0"}


def png(width: int = 1800, height: int = 900, mode: str = "RGB") -> bytes:
    out = io.BytesIO()
    Image.new(mode, (width, height), (30, 90, 80)).save(out, "PNG")
    return out.getvalue()


class Letters(RealMail, Api):
    def write(self, *blocks: Any, subject: str = "Your guide", **more: Any) -> None:
        document = MessageDocument(subject=subject, blocks=blocks, **more)
        save_message(self.world.guide, document, None, None)
        turn_on_changes(self.world.guide, None)

    def arrive(self, address: str = "ines@example.com", **answers: str) -> Subscriber:
        person = self.world.arrive(address, **answers)
        deliver_queued(self.workspace)
        return person

    def html(self, address: str = "ines@example.com") -> str:
        return self.mailbox.list(address)[0].part("html")


class Drafts(Letters):
    def revisions(self) -> list[tuple[str, int | None]]:
        rows = self.world.guide.revisions.order_by("pk")
        return list(rows.values_list("state", "number"))

    def test_the_list_counts_what_went_out_lately_and_what_waits(self) -> None:
        def counts() -> tuple[int, int]:
            [row] = [one for one in self.get("/messages") if one["id"] == str(self.world.guide.pk)]
            return row["lately"]["sent"], row["lately"]["waiting"]

        self.assertEqual(counts(), (0, 0))
        self.world.arrive("ines@example.com", consent="on")
        self.assertEqual(counts(), (0, 1))
        deliver_queued(self.workspace)
        self.assertEqual(counts(), (1, 0))
        clock.set_time(self.workspace, clock.now(self.workspace) + timedelta(days=31))
        self.assertEqual(counts(), (0, 0))

    def test_an_unused_message_is_edited_in_place_and_one_that_was_sent_is_not(self) -> None:
        made = self.send("post", "/messages", {"name": "New"})
        self.assertEqual((made["differs"], made["used"], made["edits"]), (False, False, 0))
        at = f"/messages/{made['id']}"
        body = {"document": simple_message("One", body="<p>1</p>").model_dump(mode="json")}
        saved = self.send("put", f"{at}/draft", {**body, "based_on": 0})
        self.assertEqual(
            (saved["differs"], saved["document"]["subject"], saved["edits"]), (False, "One", 1)
        )
        self.assertEqual(len(saved["revisions"]), 1)
        # The guide is used: its changes are a draft.
        self.assertEqual(self.revisions(), [("live", 1)])
        save_message(self.world.guide, simple_message("Changed", body="<p>x</p>"), None, None)
        self.assertEqual(self.revisions(), [("live", 1), ("draft", None)])
        self.arrive()
        self.assertNotEqual(self.mailbox.list()[0].message["Subject"], "Changed")
        at = f"/messages/{self.world.guide.pk}/preview"
        self.assertEqual(self.get(at)["subject"], "Changed")
        self.assertNotEqual(self.get(f"{at}?live=true")["subject"], "Changed")
        turned = self.send("post", f"/messages/{self.world.guide.pk}/turn-on", {"note": "shorter"})
        self.assertEqual([one["number"] for one in turned["revisions"]], [2, 1])
        self.assertEqual(turned["revisions"][0]["note"], "shorter")
        # What went out names the revision that it was.
        first = self.world.guide.revisions.get(number=1)
        self.assertEqual(Send.objects.of(self.workspace).get(state="sent").revision, first)
        shown = self.get(f"/messages/{self.world.guide.pk}/revisions/2")
        self.assertIn("Subject: “Your guide [First name]” → “Changed”", shown["changes"])
        back = self.send("post", f"/messages/{self.world.guide.pk}/revisions/1/go-back", {})
        self.assertTrue(back["differs"])

    def test_two_who_edit_notice_each_other(self) -> None:
        save_message(self.world.guide, simple_message("One", body="x"), 1, None)
        with self.assertRaises(Conflict):
            save_message(self.world.guide, simple_message("Two", body="x"), 1, None)

    def test_the_same_as_what_is_live_is_no_draft(self) -> None:
        live = live_document(self.world.guide)
        save_message(self.world.guide, simple_message("Changed", body="x"), None, None)
        save_message(self.world.guide, live, None, None)
        self.assertEqual(self.revisions(), [("live", 1)])

    def test_a_list_keeps_the_link_that_confirms(self) -> None:
        listed = self.send("put", f"/lists/{self.world.news.pk}/confirming", {"confirms": True})
        at = f"/messages/{listed['asking']}"
        document = simple_message("Please", body="<p>No link</p>").model_dump(mode="json")
        edits = self.get(at)["edits"]
        self.send("put", f"{at}/draft", {"document": document, "based_on": edits})
        refused = self.send("post", f"{at}/turn-on", {}, status=422)
        self.assertEqual([one["code"] for one in refused["errors"]], ["no_confirm_link"])

    def test_what_is_no_document_is_refused_with_its_place(self) -> None:
        at = f"/messages/{self.world.guide.pk}/draft"
        for document in (
            {"blocks": [{"kind": "text", "id": "a"}, {"kind": "text", "id": "a"}]},
            {"blocks": [{"kind": "carousel", "id": "a"}]},
            {"blocks": [{"kind": "space", "id": "a", "height": 9_000}]},
            {"utm": [{"name": "utm_other", "value": "x"}]},
            {"subject": "x" * 301},
        ):
            self.send("put", at, {"document": document, "based_on": 1}, status=422)
        self.assertEqual(self.revisions(), [("live", 1)])


class ForWhom(Letters):
    def test_blocks_for_some_and_what_they_look_at(self) -> None:
        moon = str(self.workspace.tag_set.get(name="moon").pk)  # type: ignore[attr-defined]
        self.write(
            TextBlock(id="a", html="<p>For all</p>"),
            TextBlock(id="b", html="<p>For the Moon</p>", only=Group(of=(TagTest(tag=moon),))),
            TextBlock(
                id="c",
                html="<p>First time</p>",
                only=Group(of=(HappenedTest(what="sent", at_least=0, at_most=0),)),
            ),
        )
        self.arrive("moon@example.com", look="moon")
        self.arrive("all@example.com")
        self.assertIn("For the Moon", self.html("moon@example.com"))
        self.assertNotIn("For the Moon", self.html("all@example.com"))
        self.assertIn("First time", self.html("all@example.com"))
        people = self.get("/people")["people"]
        by_address = {one["address"]: one["id"] for one in people}
        at = f"/messages/{self.world.guide.pk}/preview"
        for address, there in (("moon@example.com", True), ("all@example.com", False)):
            shown = self.get(f"{at}?person={by_address[address]}")
            self.assertEqual("For the Moon" in shown["html"], there)
            # They have been sent one by now.
            self.assertNotIn("First time", shown["text"])
        self.assertIn("For the Moon", self.get(at)["text"])

    def test_a_condition_that_is_gone_stops(self) -> None:
        gone = Group(of=(TagTest(tag="0193a7c2-b1de-7000-8000-000000000001"),))
        document = MessageDocument(
            subject="x", blocks=(TextBlock(id="a", html="<p>x</p>", only=gone),)
        )
        save_message(self.world.guide, document, None, None)
        shown = self.get(f"/messages/{self.world.guide.pk}")
        self.assertEqual(
            [(one["code"], one["place"]) for one in shown["findings"]],
            [("condition_gone", "block-a")],
        )


class Pictures(Letters):
    def test_two_sizes_a_long_life_and_words(self) -> None:
        made = self.client.post(
            f"/api/workspaces/{self.workspace.slug}/mail/pictures?name=dome.png", png(), "image/png"
        ).json()
        self.assertEqual((made["width"], made["height"], made["used"]), (760, 380, ""))
        self.write(
            PictureBlock(id="p", picture=made["id"], alt="The dome"),
            TextBlock(id="t", html="<p>x</p>"),
        )
        self.arrive()
        [source] = re.findall(r'<img alt="The dome"[^>]*? src="([^"]+)"', self.html())
        small = Client().get(source.partition("//")[2].partition("/")[2].join(["/", ""]))
        self.assertEqual(small.status_code, 200)
        self.assertIn("immutable", small["Cache-Control"])
        self.assertEqual(Image.open(io.BytesIO(small.content)).size, (760, 380))
        sharp = Client().get("/" + source.partition("//")[2].partition("/")[2].replace("1x", "2x"))
        self.assertEqual(Image.open(io.BytesIO(sharp.content)).size, (1520, 760))
        self.assertEqual(Client().get("/i/nothing/1x.png").status_code, 404)
        # What went out still shows it.
        refused = self.send("delete", f"/mail/pictures/{made['id']}", status=422)
        self.assertIn("Your guide", str(refused))

    def test_what_is_no_picture(self) -> None:
        at = f"/api/workspaces/{self.workspace.slug}/mail/pictures?name=x.png"
        for content in (b"", b"<svg onload='x'>", b"GIF89a"):
            self.assertEqual(self.client.post(at, content, "image/png").status_code, 422)

    def test_another_workspace_has_its_own(self) -> None:
        from tests.world import make_world

        other = make_world("Other", "other@other.example")
        theirs = add_picture(other.workspace, "x", png(), None)
        self.send("put", f"/mail/pictures/{theirs.pk}", {"name": "mine", "alt": ""}, status=404)
        self.assertEqual(self.get("/mail/pictures"), [])


class Formats(Letters):
    def test_out_and_in(self) -> None:
        self.write(
            HeadingBlock(id="h", text="Hello"),
            ButtonBlock(id="b", label="Go", link="https://a.example/"),
        )
        at = f"/api/workspaces/{self.workspace.slug}/messages/{self.world.guide.pk}"
        for form, kind in (
            ("eml", "message/rfc822"),
            ("html", "text/html"),
            ("mjml", "text/plain"),
        ):
            answer = self.client.get(f"{at}/export/{form}")
            self.assertTrue(answer["Content-Type"].startswith(kind))
            self.assertIn(b"Hello", answer.content)
            self.assertIn("attachment", answer["Content-Disposition"])
            taken = self.client.post(
                f"{at}/import/{form}", answer.content, "application/octet-stream"
            )
            self.assertEqual(taken.status_code, 200, taken.content)
            self.assertIn("Hello", str(taken.json()["message"]["document"]))
        self.assertEqual(self.client.get(f"{at}/export/exe").status_code, 404)
        document = self.client.get(f"{at}/document.json").content
        self.assertEqual(
            self.client.put(f"{at}/document.json", document, "application/json").status_code, 200
        )
        self.assertEqual(
            self.client.post(f"{at}/import/mjml", b"<p>", "text/plain").status_code, 422
        )

    def test_a_test_to_oneself(self) -> None:
        self.write(TextBlock(id="t", html='<p>Hello {{ first_name | default: "you" }}</p>'))
        person = self.arrive("ines@example.com", first_name="Ines")
        at = f"/messages/{self.world.guide.pk}/try"
        self.send("post", at, {"person": str(person.pk)})
        [received] = self.mailbox.list("noor@larkmoor.example")
        self.assertEqual(str(received.message["Subject"]), "[Test, as ines@example.com] Your guide")
        self.assertIn("Hello Ines", received.part("html"))
        self.assertEqual(Send.objects.of(self.workspace).filter(state="sent").count(), 1)


class Counted(Letters):
    def setUp(self) -> None:
        super().setUp()
        type(self.workspace).objects.filter(pk=self.workspace.pk).update(
            counts_opens=True, counts_clicks=True
        )
        self.write(
            TextBlock(
                id="t",
                html='<p><a href="https://shop.example/a?x=1">A</a> <a href="https://shop.example/b">B</a></p>',
            ),
            ButtonBlock(id="b", label="C", link="https://shop.example/c?n={{ email }}"),
            utm=(Parameter(name="utm_source", value="letter"),),
        )
        self.person = self.arrive()
        self.sent = Send.objects.of(self.workspace).get(state="sent")

    def links(self) -> list[str]:
        return [unescape(one) for one in re.findall(r'href="([^"]*/l/[^"]+)"', self.html())]

    def pixel(self) -> str:
        [found] = re.findall(r'src="([^"]*/o/[^"]+\.gif)"', self.html())
        return str(found)

    def fetch(self, address: str, after: float = 0, method: str = "get", **how: str) -> Any:
        """Ask for an address of the email so many seconds after it went out."""
        path = "/" + address.partition("//")[2].partition("/")[2]
        moment = cast(Any, self.sent.sent_at) + timedelta(seconds=after)
        with mock.patch("server.mail.counting.clock.now", lambda _: moment):
            return getattr(Client(), method)(path, **(how or PERSON))

    def judged(self) -> dict[str, int]:
        judge_now(self.workspace)
        touches = Touch.objects.of(self.workspace)
        return {by: touches.filter(by=by).count() for by in ("person", "machine")}

    def test_a_click_leads_where_the_letter_says_and_is_noted(self) -> None:
        a, _, c, _ = self.links()
        answer = self.fetch(c, 600)
        self.assertEqual(answer.status_code, 302)
        self.assertEqual(
            answer["Location"], "https://shop.example/c?n=ines%40example.com&utm_source=letter"
        )
        self.assertEqual(answer["Referrer-Policy"], "no-referrer")
        # A sandboxed window of a mail program shows it.
        self.assertEqual(answer["Cross-Origin-Opener-Policy"], "unsafe-none")
        self.assertEqual(
            self.fetch(a, 700)["Location"], "https://shop.example/a?x=1&utm_source=letter"
        )
        self.assertEqual(self.judged(), {"person": 2, "machine": 0})
        facts = Fact.everywhere.filter(subscriber=self.person, kind="clicked").order_by("at")
        self.assertEqual(
            [one.what["link"] for one in facts],
            ["https://shop.example/c?n={{ email }}", "https://shop.example/a?x=1"],
        )
        figures = self.get(f"/messages/{self.world.guide.pk}/figures")
        self.assertEqual((figures["sent"], figures["clicked"], figures["opened"]), (1, 1, 0))
        self.assertEqual(
            {one["link"]: one["people"] for one in figures["links"]},
            {"https://shop.example/c?n={{ email }}": 1, "https://shop.example/a?x=1": 1},
        )

    def test_a_link_cannot_be_made_to_lead_elsewhere(self) -> None:
        a = self.links()[0]
        for broken in (
            a[:-1],
            a[:-5] + "AAAAA",
            a.replace("/l/", "/l/x"),
            click_address(self.sent.pk, "javascript:x", "x"),
        ):
            answer = self.fetch(broken)
            self.assertIn(answer.status_code, (400, 404))
            self.assertNotIn("Location", answer)

    def test_a_double_click_is_one(self) -> None:
        a = self.links()[0]
        for after in (600, 601, 640):
            self.fetch(a, after)
        self.assertEqual(self.judged()["person"], 3)
        self.assertEqual(Fact.everywhere.filter(kind="clicked").count(), 1)

    def test_an_open_is_noted_once(self) -> None:
        for after in (600, 4_000):
            self.assertEqual(self.fetch(self.pixel(), after)["Content-Type"], "image/gif")
        self.judged()
        self.assertEqual(Fact.everywhere.filter(kind="opened").count(), 1)
        self.sent.refresh_from_db()
        self.assertIsNotNone(self.sent.opened_at)

    def test_a_scanner_that_fetches_everything_does_nothing(self) -> None:
        """Every link and picture of the email, by GET and HEAD, at once and again later."""
        html = self.html()
        addresses = {unescape(one) for one in re.findall(r'(?:href|src)="(https?://[^"]+)"', html)}
        ours = [
            one for one in addresses if "/l/" in one or "/o/" in one or "/u/" in one or "/p/" in one
        ]
        self.assertEqual(len(ours), 4 + 1 + 1 + 1)
        for start in (3, 900):
            for number, address in enumerate(sorted(ours)):
                for method in ("head", "get"):
                    self.fetch(address, start + number * 0.2, method)
        self.assertEqual(self.judged()["person"], 0)
        self.assertEqual(Fact.everywhere.filter(kind__in=["clicked", "opened"]).count(), 0)
        self.assertEqual(Membership.everywhere.get(subscriber=self.person).state, "subscribed")
        figures = self.get(f"/messages/{self.world.guide.pk}/figures")
        self.assertEqual((figures["clicked"], figures["opened"], figures["programs"]), (0, 0, 1))

    def test_whoever_does_not_want_to_be_counted_is_not(self) -> None:
        Subscriber.everywhere.filter(pk=self.person.pk).update(uncounted=True)
        self.assertEqual(self.fetch(self.links()[0], 600).status_code, 302)
        self.fetch(self.pixel(), 600)
        self.assertEqual(Touch.objects.of(self.workspace).count(), 0)
        self.mailbox.empty()
        self.world.arrive("other@example.com")
        Subscriber.everywhere.filter(address="other@example.com").update(uncounted=True)
        deliver_queued(self.workspace)
        html = self.html("other@example.com")
        self.assertNotIn("/l/", html)
        self.assertNotIn("/o/", html)
        self.assertIn("https://shop.example/a?x=1&amp;utm_source=letter", html)

    def test_nobody_fills_the_tables_by_one_picture(self) -> None:
        with mock.patch("server.mail.counting.MOST_TOUCHES", 3):
            for after in range(600, 606):
                self.fetch(self.pixel(), after)
        self.assertEqual(Touch.objects.of(self.workspace).count(), 3)

    def test_who_has_not_agreed_yet_is_not_counted(self) -> None:
        self.mailbox.empty()
        set_confirming(self.world.news, True, None)
        self.arrive("asked@example.com")
        emails = self.mailbox.list("asked@example.com")
        [asks] = [one for one in emails if "/c/" in one.part("html")]
        self.assertNotRegex(asks.part("html"), "/l/|/o/")

    def test_a_message_may_say_otherwise(self) -> None:
        live = live_document(self.world.guide)
        save_message(
            self.world.guide, live.model_copy(update={"clicks": False, "opens": False}), None, None
        )
        turn_on_changes(self.world.guide, None)
        self.mailbox.empty()
        self.arrive("other@example.com")
        self.assertNotRegex(self.html("other@example.com"), "/l/|/o/|data-l")

    def test_conditions_doors_and_audiences_know_clicks(self) -> None:
        sequence = sequences.make_sequence(self.workspace, "Clicked", self.world.member)
        document = SequenceDocument(
            list=str(self.world.news.pk),
            doors=(
                ClickDoor(id="d", message=str(self.world.guide.pk), link="/c"),
                EventDoor(id="e", name="x"),
            ),
            lanes=(Lane(id="a", steps=(SendStep(id="s", message=str(self.world.fits.pk)),)),),
        )
        sequences.save_sequence_draft(sequence, document, None, self.world.member)
        sequences.turn_on(sequence, self.world.member)
        self.fetch(self.links()[0], 600)
        self.judged()
        show_signals(self.workspace)
        self.assertEqual(Run.everywhere.filter(sequence=sequence).count(), 0)
        self.fetch(self.links()[2], 700)
        self.judged()
        show_signals(self.workspace)
        self.assertEqual(Run.everywhere.get(sequence=sequence).subscriber, self.person)
        for link, expected in (("/c", 1), ("/zzz", 0), ("", 1)):
            test = HappenedTest(what="clicked", about=str(self.world.guide.pk), link=link)
            later = clock.now(self.workspace) + timedelta(hours=1)
            catalogue = catalogue_of(self.workspace)
            found = audience_query(Group(of=(test,)), self.workspace, catalogue, later)
            self.assertEqual(found.count(), expected, link)
        happened = full_person(self.person).happened
        self.assertIn("https://shop.example/c?n={{ email }}", [one.link for one in happened])

    def test_erased_is_erased_here_too(self) -> None:
        self.fetch(self.links()[0], 600)
        self.judged()
        erase(self.person)
        self.assertEqual(Touch.objects.of(self.workspace).count(), 0)
        # The link in the inbox still leads on, and nothing is noted.
        self.assertEqual(self.fetch(self.links()[0], 900).status_code, 302)
        self.assertEqual(Touch.objects.of(self.workspace).count(), 0)
