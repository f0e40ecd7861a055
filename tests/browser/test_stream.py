"""What changes elsewhere is shown as it changes, and nothing is asked for meanwhile."""

from playwright.sync_api import Request, expect

from tests.browser.case import MemberCase


class Stream(MemberCase):
    def test_an_idle_sheet_asks_for_nothing_and_shows_what_comes(self) -> None:
        page = self.page
        asked: list[str] = []
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        expect(page.get_by_role("region", name="Then")).to_be_visible()
        # What is asked once more since it was loaded before the stream was there.
        page.wait_for_timeout(9_000)

        def note(request: Request) -> None:
            if "/api/" in request.url:
                asked.append(request.url)

        page.on("request", note)
        page.wait_for_timeout(15_000)
        self.assertEqual(asked, [])
        self.world.arrive("ines@example.com")
        expect(page.get_by_role("main")).to_contain_text("ines@example.com")
        self.assertTrue(asked)

    def test_a_new_name_is_shown_in_another_tab_at_once(self) -> None:
        page = self.page
        self.world.arrive("ines@example.com", look="moon")
        page.goto(f"{self.at}/people")
        page.get_by_role("main").get_by_role("link", name="ines@example.com").first.click()
        expect(page.get_by_role("main")).to_contain_text("moon")
        other = page.context.new_page()
        other.goto(f"{self.at}/lists")
        other.get_by_role("button", name="Details: moon", exact=True).click()
        other.get_by_label("Name", exact=True).fill("lunar")
        other.get_by_role("button", name="Rename").click()
        expect(other.get_by_role("button", name="Details: lunar", exact=True)).to_be_visible()
        # It is not looked at meanwhile: neither loaded anew nor brought to the front.
        expect(page.get_by_role("main")).to_contain_text("lunar")

    def test_somebody_who_is_erased_leaves_every_screen(self) -> None:
        """The person's sheet and the list of people, open elsewhere and not touched meanwhile."""
        page = self.page
        person = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        self.world.arrive("rui@example.com", first_name="Rui")
        sheet, people = page.context.new_page(), page.context.new_page()
        sheet.goto(f"{self.at}/people/{person.pk}")
        expect(sheet.get_by_role("main")).to_contain_text("ines@example.com")
        people.goto(f"{self.at}/people")
        expect(people.get_by_role("main")).to_contain_text("ines@example.com")
        page.goto(f"{self.at}/people/{person.pk}")
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("menuitem", name="Erase everything").click()
        page.get_by_role("dialog").get_by_role("button", name="Erase", exact=True).click()
        expect(page.get_by_text("has been erased")).to_be_visible()
        expect(sheet.get_by_role("main")).not_to_contain_text("ines@example.com")
        expect(people.get_by_role("main")).not_to_contain_text("ines@example.com")
        expect(people.get_by_role("main")).to_contain_text("rui@example.com")
