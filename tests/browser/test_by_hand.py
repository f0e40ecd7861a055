"""A member changes a person by hand: fields, tags, and off a list."""

from playwright.sync_api import expect

from server.people.actions import make_field
from tests.browser.case import BrowserCase
from tests.browser.test_whole_path import pick
from tests.world import make_world


class ByHand(BrowserCase):
    def test_fields_tags_and_off_a_list(self) -> None:
        world = make_world()
        make_field(world.workspace, "Born", "date")
        person = world.arrive("ines@example.com", first_name="Ines", look="moon")
        page = self.open()
        self.sign_in(page, world.user.email)
        page.goto(f"{self.live_server_url}/w/{world.workspace.slug}/people/{person.pk}")

        fields = page.get_by_role("region", name="Fields")
        fields.get_by_role("button", name="Change the fields").click()
        fields.get_by_role("textbox", name="First name").fill("Inês")
        fields.get_by_role("group", name="Born").get_by_role("spinbutton", name="Day").click()
        page.keyboard.type("03Feb2001")
        fields.get_by_role("button", name="Save the fields").click()
        expect(fields).to_contain_text("First name: Inês")
        expect(fields).to_contain_text("Born: 2001-02-03 because changed by")
        fields.get_by_role("button", name="Change the fields").click()
        fields.get_by_role("button", name="Empty Born").click()
        fields.get_by_role("button", name="Save the fields").click()
        expect(fields.get_by_role("button", name="Change the fields")).to_be_visible()
        expect(fields.get_by_text("2001-02-03")).to_have_count(0)

        tags = page.get_by_role("region", name="Tags")
        tags.get_by_role("button", name="Change the tags").click()
        pick(page, "Tags", "met at the fair", make="tag")
        tags.get_by_role("button", name="Save the tags").click()
        expect(tags).to_contain_text("met at the fair because changed by")

        lists = page.get_by_role("region", name="Lists")
        lists.get_by_role("button", name="Unsubscribe from Open-night news").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Not now").click()
        self.assertEqual(person.memberships.get().state, "subscribed")
        lists.get_by_role("button", name="Unsubscribe from Open-night news").click()
        dialog.get_by_role("button", name="They asked to leave").click()
        expect(lists).to_contain_text("unsubscribed")
        expect(lists.get_by_role("button", name="Unsubscribe from Open-night news")).to_have_count(
            0
        )
        self.assertEqual(person.memberships.get().state, "unsubscribed")
        expect(page.get_by_text("Open-night news: subscribed → unsubscribed")).to_be_visible()
