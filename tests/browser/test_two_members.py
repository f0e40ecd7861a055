"""Two members at one sheet, and documents that replace a draft: nothing is lost unasked."""

from playwright.sync_api import FilePayload, Page, expect

from core.deciding import RouteDocument
from core.messages import simple_message
from server.mail.editing import save_message
from server.sources.actions import save_route_draft, shown_revision
from server.sources.portable import route_out
from tests.browser.case import MemberCase, wait_until


class TwoMembers(MemberCase):
    def setUp(self) -> None:
        super().setUp()
        self.source = self.world.source

    def sheet(self) -> RouteDocument:
        return RouteDocument.model_validate(shown_revision(self.source).document)

    def heading(self) -> str:
        return self.sheet().visitor_sees.heading

    def theirs(self, heading: str) -> None:
        """What the other member saves."""
        sees = self.sheet().visitor_sees.model_copy(update={"heading": heading})
        changed = self.sheet().model_copy(update={"visitor_sees": sees})
        save_route_draft(self.source, changed, None, None)

    def open_sheet(self) -> Page:
        self.page.goto(f"{self.at}/sources/{self.source.pk}")
        self.page.get_by_role("button", name="Edit what the visitor sees").click()
        expect(self.page.get_by_label("Heading")).to_be_visible()
        return self.page

    def conflict(self) -> Page:
        """The sheet with an edit of mine, after an edit of theirs."""
        page = self.open_sheet()
        self.theirs("Theirs")
        page.get_by_label("Heading").fill("Mine")
        expect(page.get_by_text("Somebody else changed this draft")).to_be_visible()
        expect(page.get_by_text("Not saved")).to_be_visible()
        self.assertEqual(self.heading(), "Theirs")
        return page

    def test_what_is_different_is_shown_and_mine_is_saved_when_i_say_so(self) -> None:
        page = self.conflict()
        page.get_by_role("button", name="Compare", exact=True).click()
        expect(page.get_by_role("alert").filter(has_text="Somebody else")).to_contain_text("Mine")
        # It can neither be turned on nor left without a word.
        page.get_by_role("link", name="People", exact=True).click()
        expect(page.get_by_role("dialog")).to_contain_text("Leave without saving?")
        page.get_by_role("button", name="Stay here").click()
        page.get_by_role("button", name="Overwrite it").click()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        self.assertEqual(self.heading(), "Mine")

    def test_theirs_is_gone_on_with(self) -> None:
        page = self.conflict()
        page.get_by_role("button", name="Use the saved version").click()
        expect(page.get_by_label("Heading")).to_have_value("Theirs")
        page.get_by_label("Heading").fill("Ours")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        wait_until(lambda: self.heading() == "Ours")

    def test_two_tabs_of_one_form_keep_what_each_changed(self) -> None:
        page, other = self.page, self.page.context.new_page()
        for one in (page, other):
            one.goto(f"{self.at}/messages/style")
        footer = "Text below every letter (optional)"
        page.get_by_label(footer).fill("Clear skies.")
        other.get_by_label("Replies go to").fill("desk@larkmoor.example")
        for one in (page, other):
            one.get_by_role("button", name="Save", exact=True).click()
            expect(one.get_by_role("status").filter(has_text="Saved")).to_be_visible()
        # What the other tab saved stands here too.
        expect(other.get_by_label(footer)).to_have_value("Clear skies.")
        self.world.workspace.refresh_from_db()
        self.assertEqual(
            (self.world.workspace.house_style["footer"], self.world.workspace.reply_to),
            ("Clear skies.", "desk@larkmoor.example"),
        )
        # The same thing changed in both: one is asked.
        page.reload()
        for one, text in ((page, "One"), (other, "Two")):
            one.get_by_label(footer).fill(text)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("status").filter(has_text="Saved")).to_be_visible()
        other.get_by_role("button", name="Save", exact=True).click()
        expect(other.get_by_text("Somebody else changed these settings")).to_be_visible()
        other.get_by_role("button", name="Use the saved version").click()
        expect(other.get_by_label(footer)).to_have_value("One")

    def test_what_is_written_in_a_form_that_is_closed_is_there_again_and_asked_for(self) -> None:
        page = self.page
        page.goto(f"{self.at}/lists")
        page.get_by_role("button", name="Names and pages of Open-night news").click()
        page.get_by_label("What it is about").fill("Once a month")
        page.get_by_role("button", name="Names and pages of Open-night news").click()
        expect(page.get_by_label("What it is about")).to_have_count(0)
        page.get_by_role("button", name="Names and pages of Open-night news").click()
        expect(page.get_by_label("What it is about")).to_have_value("Once a month")
        page.get_by_role("link", name="Desk", exact=True).click()
        page.get_by_role("button", name="Save and leave").click()
        expect(page.get_by_role("heading", name="Desk")).to_be_visible()
        self.world.news.refresh_from_db()
        self.assertEqual(self.world.news.description, "Once a month")

    def test_theirs_appears_by_itself_where_nothing_is_unsaved(self) -> None:
        page = self.open_sheet()
        self.theirs("Theirs")
        expect(page.get_by_label("Heading")).to_have_value("Theirs", timeout=20_000)

    def test_a_message_of_two(self) -> None:
        page, guide = self.page, self.world.guide
        page.goto(f"{self.at}/messages/{guide.pk}")
        expect(page.get_by_role("textbox", name="Subject")).to_be_visible()
        save_message(guide, simple_message("Theirs", body="<p>Their text</p>"), None, None)
        page.get_by_role("textbox", name="Subject").fill("Mine")
        expect(page.get_by_text("Somebody else changed this draft")).to_be_visible()
        page.get_by_role("button", name="Compare", exact=True).click()
        expect(page.get_by_text("Subject: “Theirs” → “Mine”")).to_be_visible()
        page.get_by_role("button", name="Use the saved version").click()
        expect(page.get_by_role("textbox", name="Subject")).to_have_value("Theirs")
        expect(page.get_by_role("textbox", name="Text of the message")).to_have_text("Their text")

    def test_a_sheet_from_a_file_asks_before_it_replaces_a_draft(self) -> None:
        content = route_out(self.source).model_dump_json().encode()
        self.theirs("A draft")
        page = self.open_sheet()
        file: FilePayload = {
            "name": "guide.json",
            "mimeType": "application/json",
            "buffer": content,
        }
        page.get_by_label("A sheet as a file").set_input_files(file)
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("A draft")
        dialog.get_by_role("button", name="Keep the draft").click()
        self.assertEqual(self.heading(), "A draft")
        page.get_by_label("A sheet as a file").set_input_files(file)
        dialog.get_by_role("button", name="Replace it").click()
        expect(page.get_by_label("Heading")).to_have_value("Thank you")
        # What is edited from here on is the new draft.
        page.get_by_label("Heading").fill("Many thanks")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        wait_until(lambda: self.heading() == "Many thanks")
