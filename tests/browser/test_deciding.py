"""Rules with conditions, and double opt-in through the inbox, in Chromium."""

import re

from playwright.sync_api import expect

from server.mail.confirming import set_confirming
from server.people.models import Subscriber
from tests.browser.case import TURN_ON, MemberCase, wait_until
from tests.browser.test_whole_path import pick


class Deciding(MemberCase):
    def test_a_rule_that_acts_only_when_a_condition_holds(self) -> None:
        for number, look in enumerate(("moon", "planets", "moon")):
            self.world.arrive(f"p{number}@example.com", look=look)
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Another rule").click()
        page.get_by_role("menuitem", name="Make a task for the owner").click()
        page.get_by_label("What is to be done").fill("Send the moon map")
        then = page.get_by_role("region", name="Then")
        then.get_by_role("button", name="Add a condition").last.click()
        then.get_by_role("button", name="Add condition").click()
        page.get_by_role("menuitem", name="an answer").click()
        page.get_by_role("combobox", name="Answer to").fill("What do you")
        page.get_by_role("option", name=re.compile("^What do you look at")).click()
        then.get_by_label("Value").last.click()
        page.get_by_role("option", name="Moon", exact=True).click()
        expect(then.get_by_text("would have fitted 2 of the last 3 submissions")).to_be_visible()
        expect(then).to_contain_text("the answer to “What do you look at?” is Moon")
        # Of two comparisons that exclude each other pre-flight says so.
        then.get_by_role("button", name="Add condition").click()
        page.get_by_role("menuitem", name="a tag").click()
        pick(page, "Tag", "guide", exact=True)
        expect(then.get_by_text("task: Send the moon map")).to_be_visible()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name=TURN_ON).click()
        expect(page.get_by_role("dialog")).to_be_hidden()
        self.world.arrive("new@example.com", look="moon")
        page.goto(f"{self.at}/desk")
        expect(page.get_by_text("Send the moon map")).to_be_visible()
        page.get_by_role("button", name="Done: Send the moon map, new@example.com").click()
        expect(page.get_by_text("Send the moon map")).to_have_count(0)

    def test_people_narrowed_by_a_condition(self) -> None:
        for look in ("moon", "moon", "planets"):
            self.world.arrive(f"{look}{Subscriber.everywhere.count()}@example.com", look=look)
        page = self.page
        page.goto(f"{self.at}/people")
        expect(page.get_by_text("3 people", exact=True)).to_be_visible()
        page.get_by_role("button", name="Filter").click()
        page.get_by_role("button", name="Add condition").click()
        # What belongs to one submission is not asked of everybody.
        expect(page.get_by_role("menuitem", name="an answer")).to_have_count(0)
        page.get_by_role("menuitem", name="a tag").click()
        pick(page, "Tag", "moon")
        only = page.get_by_role("region", name="Filter")
        expect(only).to_contain_text("has the tag moon")
        expect(only).to_contain_text("2 people fit")
        expect(page.get_by_role("row")).to_have_count(3)
        only.get_by_label("How many of them").click()
        page.get_by_role("option", name="none of").click()
        expect(only).to_contain_text("1 person fits")
        # The address of the page keeps it.
        page.reload()
        expect(only).to_contain_text("none of: has the tag moon")
        expect(page.get_by_role("row")).to_have_count(2)
        only.get_by_role("button", name="Clear filter").click()
        expect(page.get_by_role("row")).to_have_count(4)

    def test_confirmed_by_email_through_the_inbox(self) -> None:
        page = self.page
        page.goto(f"{self.at}/lists")
        page.get_by_role("button", name="Opt-in of Open-night news").click()
        page.get_by_label("People confirm by email before they are subscribed").click()
        expect(page.get_by_text("double opt-in", exact=False).first).to_be_visible()
        expect(page.get_by_role("link", name="Open the message that asks")).to_be_visible()
        set_confirming(self.world.news, True, None)
        visitor = self.open(390, 780)
        visitor.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        visitor.wait_for_timeout(1_700)
        visitor.get_by_label("Email").fill("ines@example.com")
        visitor.get_by_role("button", name="Send").click()
        expect(visitor.get_by_text("It is on its way.")).to_be_visible()
        wait_until(lambda: len(self.mailbox.list("ines@example.com")) == 2)
        visitor.goto(f"{self.outside}/inboxes/ines@example.com/")
        visitor.get_by_role("link", name="Please confirm: Open-night news").click()
        link = visitor.frame_locator("iframe").get_by_role("link", name="Yes, subscribe me")
        visitor.goto(link.get_attribute("href") or "")
        person = Subscriber.objects.of(self.world.workspace).get()
        self.assertEqual(person.memberships.get().state, "pending")
        visitor.get_by_role("button", name="Yes, subscribe me").click()
        expect(visitor.get_by_role("heading", name="You are subscribed")).to_be_visible()
        page.goto(f"{self.at}/people/{person.pk}")
        expect(page.get_by_text("pending → subscribed").first).to_be_visible()
