"""Services on the screen: connect one, make a field that is missing there, map, test, turn on; a stranger
arrives there; it breaks, and is set right; a shop tells, and the nurture stops."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from outside.services.lists import KEY
from server.sequences.models import Run
from server.services.models import Handoff, Service
from tests.browser.case import TURN_ON, MemberCase, wait_until
from tests.browser.test_whole_path import pick


class Services(MemberCase):
    def over_there(self, service: str) -> Page:
        """The page of a service, in a window of its own."""
        page = self.page.context.new_page()
        page.goto(f"{self.outside}/services/{service}/")
        return page

    def mood(self, service: str, mood: str) -> None:
        page = self.over_there(service)
        page.get_by_label("From now on it").select_option(mood)
        page.get_by_role("button", name="Set", exact=True).click()
        # Chromium may never close a page that it is just going to.
        page.wait_for_load_state()
        page.close()
        # A page that lies behind others may not paint, and a click waits for that.
        self.page.bring_to_front()

    def connect(self, program: str, name: str) -> None:
        page = self.page
        page.goto(f"{self.at}/services")
        page.get_by_role("button", name="Connect a service").click()
        page.get_by_role("combobox", name="Which program").click()
        page.get_by_role("option", name=program).click()
        page.get_by_role("textbox", name="Name here").fill(name)
        page.get_by_role("button", name="Connect", exact=True).click()
        expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()

    def submit(self, address: str, first_name: str) -> None:
        """A stranger fills in the form."""
        page = self.open()
        page.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        page.get_by_label("Email").fill(address)
        page.get_by_label("First name").fill(first_name)
        page.wait_for_timeout(1_600)  # nobody answers a form faster, and who does is held
        page.get_by_role("button").last.click()
        expect(page.get_by_text("Thank you")).to_be_visible()

    def state(self, address: str) -> Any:
        row = Handoff.everywhere.filter(subscriber__address=address).first()
        return row.state if row else None

    def test_from_connecting_to_handing_over_again(self) -> None:
        self.connect("List service", "Star letters")
        self.signs_in()
        self.maps()
        self.sends_a_test()
        self.turns_on()
        self.breaks_and_is_set_right()
        self.is_seen_on_the_person()
        self.is_handed_over_by_a_step_too()

    def signs_in(self) -> None:
        """A wrong key says so; the right one signs in."""
        page = self.page
        page.get_by_label("API key").fill("a wrong key")
        page.get_by_role("button", name="Save and try").click()
        expect(page.get_by_role("alert")).to_contain_text("refuses the sign-in")
        page.get_by_role("button", name="Replace the key").click()
        page.get_by_label("API key").fill(KEY)
        page.get_by_role("button", name="Save and try").click()
        expect(page.get_by_text("Signed in as Larkmoor Observatory, 2 lists")).to_be_visible()
        expect(page.get_by_text(KEY)).to_have_count(0)
        pick(page, "Hand over subscribers of", "Open-night news")

    def maps(self) -> None:
        """The rule, mapped beside the fields over there."""
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Another rule …").click()
        page.get_by_role("menuitem", name="Hand to a service").click()
        pick(page, "Service", "Star letters")
        page.get_by_role("combobox", name="What it does").click()
        page.get_by_role("option", name="Add to a list").click()
        table = page.get_by_role("group", name="Fields of Star letters")
        expect(table.get_by_role("group", name="First name")).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("Pre-flight: 1"))).to_be_visible()
        pick(page, "List there", "Observatory news")
        page.get_by_label("The service asks them to confirm").set_checked(False)
        # A field that is missing over there, made without leaving.
        table.get_by_role("button", name="Create a field there").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Name").fill("What they look at")
        dialog.get_by_role("button", name="Create", exact=True).click()
        expect(dialog).to_be_hidden()
        line = table.get_by_role("group", name="What they look at")
        box = line.get_by_role("combobox")
        box.fill("What do you look")
        page.get_by_role("option", name="What do you look at?").click()

    def sends_a_test(self) -> None:
        """A sample of one's own, and a test of it."""
        page = self.page
        table = page.get_by_role("group", name="Fields of Star letters")
        self.submit("first@example.com", "Fria")
        page.reload()
        page.get_by_role("button", name=re.compile("^Edit rule")).last.click()
        expect(table.get_by_role("group", name="First name")).to_contain_text("Fria")
        expect(table.get_by_role("group", name="Email")).to_contain_text("first@example.com")
        page.get_by_role("button", name="Send the sample as a test").click()
        expect(page.get_by_text("Star letters took it.")).to_be_visible()
        there = self.over_there("lists")
        expect(there.get_by_text("first@example.com (test)")).to_be_visible()
        page.get_by_role("button", name="Take it away again").click()
        expect(page.get_by_text("Taken away again.")).to_be_visible()
        there.reload()
        expect(there.get_by_text("first@example.com")).to_have_count(0)

    def turns_on(self) -> None:
        """Turned on: a stranger arrives there."""
        page = self.page
        there = self.over_there("lists")
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name="Turn on").click()
        expect(page.get_by_role("button", name=TURN_ON)).to_have_count(0)
        self.submit("vesna@example.com", "Vesna")
        wait_until(lambda: self.state("vesna@example.com") == "done")
        there.reload()
        row = there.get_by_role("row", name=re.compile("vesna@example.com"))
        expect(row).to_contain_text("Observatory news: subscribed")
        expect(row).to_contain_text("first_name: Vesna")

    def breaks_and_is_set_right(self) -> None:
        """It stops taking the field: a snag says so, and everything else arrives."""
        page = self.page
        there = self.over_there("lists")
        self.mood("lists", "rubbish")
        self.submit("rolf@example.com", "Rolf")
        wait_until(lambda: self.state("rolf@example.com") == "failed")
        page.goto(f"{self.at}/snags")
        expect(page.get_by_text("Star letters: The answer is not JSON.")).to_be_visible()
        self.mood("lists", "well")
        page.get_by_role("link", name="Open the service").click()
        expect(page.get_by_text("rolf@example.com")).to_be_visible()
        page.get_by_role("button", name="Hand these over again").click()
        wait_until(lambda: self.state("rolf@example.com") == "done")
        there.reload()
        expect(there.get_by_role("row", name=re.compile("rolf@example.com"))).to_be_visible()
        page.goto(f"{self.at}/snags")
        expect(page.get_by_text("No snags.")).to_be_visible()

    def is_seen_on_the_person(self) -> None:
        """On the submission and the person: where it is, what was sent, what came back."""
        page = self.page
        person = Handoff.everywhere.filter(subscriber__address="vesna@example.com").get().subscriber
        assert person is not None
        page.goto(f"{self.at}/people/{person.pk}")
        band = page.get_by_role("region", name="Services")
        expect(band).to_contain_text("handed over")
        band.get_by_role("button", name="Details of").click()
        expect(band).to_contain_text('"first_name": "Vesna"')
        expect(band.get_by_role("link", name="See it there")).to_be_visible()
        expect(band).not_to_contain_text(KEY)

    def is_handed_over_by_a_step_too(self) -> None:
        """The same form in the panel of a step; the sample is the last who entered."""
        page = self.page
        page.goto(f"{self.at}/sequences/{self.world.sequence.pk}")
        page.get_by_role("button", name="Add a step", exact=True).first.click()
        page.get_by_role("menuitem", name="Hand to a service").click()
        pick(page, "Service", "Star letters")
        page.get_by_role("combobox", name="What it does").click()
        page.get_by_role("option", name="Add to a list").click()
        pick(page, "List there", "Shop offers")
        table = page.get_by_role("group", name="Fields of Star letters")
        expect(table.get_by_role("group", name="First name")).to_contain_text("Sent: Rolf")
        page.get_by_label("The service asks them to confirm").set_checked(False)
        page.get_by_role("button", name="Move up").click()
        page.get_by_role("button", name="Move up").click()
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name="Turn on").click()
        expect(page.get_by_role("button", name=TURN_ON)).to_have_count(0)
        self.submit("stepan@example.com", "Stepan")
        handed = Handoff.everywhere.filter(origin__startswith="step/", state="done")
        wait_until(handed.exists)
        there = self.over_there("lists")
        row = there.get_by_role("row", name=re.compile("stepan@example.com"))
        expect(row).to_contain_text("Shop offers: subscribed")

    def test_the_shop_tells_and_the_nurture_stops(self) -> None:
        page = self.page
        self.connect("Telescope shop", "Shop")
        # Nothing is asked for until it has a key; its calls are signed.
        page.get_by_role("button", name="Create a new signing secret").click()
        secret = page.get_by_text(re.compile("^whsec_")).inner_text()
        address = page.get_by_text(re.compile("/hear/")).inner_text()
        there = self.over_there("shop")
        there.get_by_role("textbox", name="Address").fill(address)
        there.get_by_label("Signing secret").fill(secret)
        there.get_by_role("button", name="Save").click()
        # The goal of the sequence: bought.
        page.goto(f"{self.at}/sequences/{self.world.sequence.pk}")
        page.get_by_role("button", name="Add a goal").click()
        page.get_by_label("Name of the goal").fill("bought something")
        page.get_by_label("Reached by the event").fill("bought")
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name="Turn on").click()
        expect(page.get_by_role("button", name=TURN_ON)).to_have_count(0)
        self.submit("buyer@example.com", "Bea")
        wait_until(lambda: Run.everywhere.filter(ended_at=None, step="w1").exists())
        shop = self.open()
        shop.goto(f"{self.outside}/larkmoor/shop/")
        shop.get_by_label("Red torch").check()
        shop.locator("form[action='/larkmoor/buy/'] input[name=email]").fill("buyer@example.com")
        shop.get_by_role("button", name="Buy").click()
        expect(shop.get_by_text("Thank you for your order")).to_be_visible()
        wait_until(lambda: Run.everywhere.filter(ended="goal").exists())
        there.reload()
        expect(there.get_by_text("told: 202")).to_be_visible()
        page.goto(f"{self.at}/services/{Service.everywhere.get().pk}")
        expect(page.get_by_text(re.compile("Order paid · event: bought"))).to_be_visible()
        # And in the trail, with its cause.
        page.get_by_role("link", name="the person").click()
        bought = page.get_by_role("paragraph").filter(has_text="Event: bought")
        expect(bought).to_contain_text("product Red torch")
        expect(bought.get_by_role("link", name="Shop")).to_be_visible()
