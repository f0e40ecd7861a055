"""A broadcast through the screen: written, counted, tried, sent, paused, resumed; called back; approved."""

import re
from datetime import timedelta

from playwright.sync_api import expect

from server.broadcasts.models import Broadcast
from server.mail.models import Send
from server.people.models import Subscriber
from server.people.suppression import suppress
from server.sequences.moving_time import move_time
from server.workspaces import clock
from server.workspaces.models import Member, Role, Workspace
from tests.browser.case import MemberCase
from tests.world import make_user


class Broadcasts(MemberCase):
    def setUp(self) -> None:
        super().setUp()
        self.people = [
            self.world.arrive(f"person{number}@example.com", first_name=f"Ines{number}")
            for number in range(4)
        ]
        self.later(days=2)

    def later(self, **by: int) -> None:
        workspace = Workspace.objects.get(pk=self.world.workspace.pk)
        move_time(workspace, clock.now(workspace) + timedelta(**by))

    def write(self, name: str = "March letter") -> None:
        """A broadcast with its list and its message, all by the screen."""
        page = self.page
        page.goto(f"{self.at}/broadcasts")
        page.get_by_role("button", name="New broadcast").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("What is it about?").fill(name)
        dialog.get_by_role("button", name="Create broadcast").click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()
        to = page.get_by_role("region", name="To", exact=True)
        to.get_by_label("List", exact=True).click()
        page.get_by_role("option", name="Open-night news").click()
        to.get_by_role("button", name="Done").click()
        expect(to).to_contain_text("Everybody on Open-night news")
        message = page.get_by_role("region", name="Message", exact=True)
        message.get_by_label("Message", exact=True).click()
        page.get_by_role("option", name="Your guide").click()
        message.get_by_role("button", name="Done").click()
        expect(message).to_contain_text("Your guide")

    def send(self) -> None:
        page = self.page
        page.get_by_role("button", name="Send", exact=True).click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("people get it.")
        dialog.get_by_role("button", name="Send", exact=True).click()

    def test_written_counted_sent_called_back_paused_and_done(self) -> None:
        page = self.page
        suppress(self.world.workspace, [self.people[0].address], "asked", None)
        self.write()
        before = page.get_by_role("region", name="Before it goes")
        expect(before).to_contain_text(re.compile(r"3\s*will get it"))
        expect(before).to_contain_text("On the suppression list")
        before.get_by_role("button", name=re.compile("^Show who is left out")).click()
        expect(before.get_by_role("link", name="Ines0")).to_be_visible()
        # Somebody who does not get it, and why.
        beside = page.get_by_role("complementary", name="One person")
        expect(beside).to_contain_text("Gets it")
        beside.get_by_label("Look up somebody").fill("person0")
        page.get_by_role("option", name=re.compile("Ines0")).click()
        expect(beside).to_contain_text("Does not get it. On the suppression list")
        self.send()
        expect(page.get_by_text("Until then it can be called back whole.")).to_be_visible()
        page.get_by_role("button", name="Call it back").click()
        expect(page.get_by_role("button", name="Send", exact=True)).to_be_visible()
        self.later(minutes=10)
        self.assertFalse(Send.everywhere.filter(broadcast__isnull=False).exists())
        self.send()
        expect(page.get_by_role("button", name="Call it back")).to_be_visible()
        self.later(minutes=6)
        goes = page.get_by_role("region", name="How it goes")
        expect(goes).to_contain_text("3 of 3 sent", timeout=15_000)
        self.later(minutes=1)
        expect(page.get_by_role("region", name="Did not get it")).to_contain_text(
            "1 · On the suppression list"
        )
        self.assertEqual(Broadcast.everywhere.get().state, "done")
        page.get_by_role("navigation", name="Rooms").get_by_role("link", name="Broadcasts").click()
        expect(page.get_by_role("row", name=re.compile("March letter"))).to_contain_text("sent")

    def test_paused_half_way_and_resumed(self) -> None:
        page = self.page
        self.write()
        when = page.get_by_role("region", name="When", exact=True)
        when.get_by_role("button", name="Edit").click()
        when.get_by_label("At most per hour", exact=True).fill("2")
        when.get_by_role("button", name="Done").click()
        expect(when).to_contain_text("at most 2 an hour")
        self.send()
        expect(page.get_by_role("button", name="Call it back")).to_be_visible()
        self.later(minutes=40)
        goes = page.get_by_role("region", name="How it goes")
        expect(goes).to_contain_text("2 of 4 sent", timeout=15_000)
        page.get_by_role("button", name="Pause", exact=True).click()
        expect(page.get_by_text("Nothing is sent until it is resumed.")).to_be_visible()
        self.later(days=1)
        expect(goes).to_contain_text("2 of 4 sent")
        page.get_by_role("button", name="Resume", exact=True).click()
        expect(page.get_by_role("button", name="Pause", exact=True)).to_be_visible()
        self.later(hours=2)
        expect(goes).to_contain_text("4 of 4 sent", timeout=15_000)

    def test_a_trial_to_its_end_with_the_clock(self) -> None:
        page = self.page
        Workspace.objects.filter(pk=self.world.workspace.pk).update(counts_clicks=True)
        self.write()
        message = page.get_by_role("region", name="Message", exact=True)
        message.get_by_role("button", name="Edit").click()
        message.get_by_role("button", name="Try two versions first").click()
        second = message.get_by_role("region", name="Version B")
        second.get_by_label("Subject of this version").fill("Clear nights")
        message.get_by_label("Percent who get a version first").fill("90")
        message.get_by_role("button", name="Done").click()
        expect(message).to_contain_text("2 versions go to 90% of them first")
        self.send()
        expect(page.get_by_role("button", name="Call it back")).to_be_visible()
        self.later(minutes=6)
        trial = page.get_by_role("region", name="Trial")
        expect(trial).to_contain_text("Too early to say", timeout=15_000)
        self.later(hours=5)
        self.later(minutes=1)
        expect(trial).to_contain_text("so version A went to the rest", timeout=15_000)
        got = Send.everywhere.filter(broadcast__isnull=False, state="sent")
        self.assertEqual(got.values("subscriber").distinct().count(), 4)
        self.assertEqual(got.count(), Subscriber.everywhere.count())

    def test_a_second_member_approves_it(self) -> None:
        page = self.page
        Workspace.objects.filter(pk=self.world.workspace.pk).update(approves_broadcasts=True)
        tove = make_user("tove@larkmoor.example")
        Member.objects.create(workspace=self.world.workspace, user=tove, role=Role.EDITOR)
        self.write()
        page.get_by_role("button", name="Ask for approval").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_label("Who approves it")).to_contain_text("tove@larkmoor.example")
        dialog.get_by_role("button", name="Ask for approval").click()
        expect(page.get_by_text("Nothing goes before that.")).to_be_visible()
        expect(page.get_by_role("button", name="Approve", exact=True)).to_have_count(0)
        # The other one, in a browser of their own.
        other = self.open()
        self.sign_in(other, tove.email)
        other.goto(page.url)
        other.get_by_role("button", name="Approve", exact=True).click()
        other.get_by_role("dialog").get_by_role("button", name="Approve", exact=True).click()
        expect(other.get_by_role("button", name="Call it back")).to_be_visible()
        self.assertEqual(Broadcast.everywhere.get().state, "waiting")
