"""Tags, fields, the suppression list, submissions and revisions tidied up, in Chromium."""

import csv
import re
from pathlib import Path

from playwright.sync_api import expect

from core.deciding import RouteDocument
from server.people.actions import make_field, make_tag
from server.people.models import Subscriber, Suppression, Tag
from server.routes.actions import turn_on
from server.sources.actions import save_route_draft
from server.submissions.models import Submission
from tests.browser.case import TURN_ON, MemberCase


class Tidying(MemberCase):
    def setUp(self) -> None:
        super().setUp()
        self.workspace = self.world.workspace

    def test_two_tags_that_look_alike_become_one(self) -> None:
        person = self.world.arrive("ines@example.com", look="planets")
        other = make_tag(self.workspace, "planet")
        page = self.page
        page.goto(f"{self.at}/lists")
        page.get_by_role("button", name="Details: planets").click()
        expect(page.get_by_text("the answer to “What do you look at?” was Planets")).to_be_visible()
        page.get_by_role("button", name="Details: planets").click()
        page.get_by_role("button", name="Details: planet", exact=True).click()
        name = page.get_by_label("Name", exact=True)
        name.fill("planets")
        page.get_by_role("button", name="Rename").click()
        # A name that is taken is refused where it was typed, and nothing is lost.
        expect(page.get_by_role("alert")).to_contain_text("planets")
        page.get_by_label("Merge into").click()
        page.get_by_role("option", name="planets", exact=True).click()
        page.get_by_role("button", name="Merge 0").click()
        expect(page.get_by_text("planet", exact=True)).to_have_count(0)
        self.assertFalse(Tag.objects.of(self.workspace).filter(pk=other.pk).exists())
        self.assertEqual(person.taggings.count(), 2)

    def test_a_new_name_is_shown_wherever_the_old_one_stood(self) -> None:
        """All without loading the page anew: what was looked at before is at hand."""
        person = self.world.arrive("ines@example.com", look="moon")
        page = self.page

        def go(room: str, thing: str = "") -> None:
            page.get_by_role("link", name=room, exact=True).first.click()
            if thing:
                page.get_by_role("main").get_by_role("link", name=thing).first.click()

        def shown(news: str, moon: str, guide: str) -> None:
            go("Sequences", self.world.sequence.name)
            expect(page.get_by_role("button", name=f"Emails of {news}")).to_be_visible()
            expect(page.get_by_role("region", name="Lanes")).to_contain_text(f"“{guide}”")
            go("Sources", self.world.source.name)
            expect(page.get_by_role("region", name="Consent")).to_contain_text(news)
            expect(page.get_by_role("region", name="Then")).to_contain_text(moon)
            go("People", person.address)
            expect(page.get_by_role("main")).to_contain_text(news)
            expect(page.get_by_role("main")).to_contain_text(moon)

        page.goto(f"{self.at}/lists")
        shown("Open-night news", "moon", "Your guide")
        go("Lists")
        page.get_by_role("button", name="Names and pages").first.click()
        page.get_by_label("Name here").fill("Dome letters")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        page.get_by_role("button", name="Details: moon", exact=True).click()
        page.get_by_label("Name", exact=True).fill("lunar")
        page.get_by_role("button", name="Rename").click()
        expect(page.get_by_role("button", name="Details: lunar", exact=True)).to_be_visible()
        go("Messages", "Your guide")
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("menuitem", name="Rename").click()
        page.get_by_role("dialog").get_by_label("Name").fill("The guide")
        page.get_by_role("button", name="Rename", exact=True).click()
        expect(page.get_by_role("heading", name="The guide")).to_be_visible()
        shown("Dome letters", "lunar", "The guide")

    def test_a_tag_is_removed_with_its_count_before_ones_eyes(self) -> None:
        self.world.arrive("ines@example.com", look="planets")
        page = self.page
        page.goto(f"{self.at}/lists")
        page.get_by_role("button", name="Details: planets").click()
        page.get_by_role("button", name="Remove from 1").click()
        self.assertTrue(Tag.objects.of(self.workspace).filter(name="planets").exists())
        page.get_by_role("button", name="Really remove from 1").click()
        expect(page.get_by_role("button", name="Details: planets")).to_have_count(0)
        self.assertFalse(Tag.objects.of(self.workspace).filter(name="planets").exists())

    def test_a_field_is_retyped_after_a_look_at_what_would_be_lost(self) -> None:
        make_field(self.workspace, "Visits", "text", ())
        for number, text in enumerate(("3", "12", "a few")):
            person = self.world.arrive(f"p{number}@example.com")
            person.values["visits"] = text
            person.save()
        page = self.page
        page.goto(f"{self.at}/fields")
        page.get_by_role("button", name="Retype Visits").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("combobox").click()
        page.get_by_role("option", name="number", exact=True).click()
        dialog.get_by_role("button", name="See what 3 values would become").click()
        expect(dialog).to_contain_text("2 values can be read, 1 cannot and would be lost.")
        expect(dialog).to_contain_text("a few")
        dialog.get_by_role("button", name="Retype 3 and lose 1").click()
        expect(dialog).to_be_hidden()
        row = page.get_by_role("row", name=re.compile("^Visits"))
        expect(row).to_contain_text("number")
        self.assertEqual(
            [
                one.values.get("visits")
                for one in Subscriber.objects.of(self.workspace).order_by("address")
            ],
            ["3", "12", None],
        )

    def test_a_field_is_renamed_and_its_token_stays(self) -> None:
        page = self.page
        page.goto(f"{self.at}/fields")
        page.get_by_role("button", name="Rename First name").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("In texts it stays first_name")
        dialog.get_by_label("Name").fill("Given name")
        dialog.get_by_role("button", name="Rename").click()
        expect(dialog).to_be_hidden()
        row = page.get_by_role("row", name=re.compile("^Given name"))
        expect(row).to_contain_text("first_name")
        expect(row).to_contain_text("Telescope guide")

    def test_the_suppression_list_in_and_out(self) -> None:
        page = self.page
        page.goto(f"{self.at}/suppression")
        page.get_by_role("button", name="Add").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Addresses, or domains").fill(
            "ines@example.com\n\nnonsense\n@example.org"
        )
        dialog.get_by_label("Reason").fill("asked by phone")
        dialog.get_by_role("button", name="Add 3 entries").click()
        expect(dialog).to_contain_text("2 added; 1 line is neither an address nor a domain")
        # The line that the reader sees, the empty one counted.
        expect(dialog).to_contain_text("Line 3: “nonsense”")
        dialog.get_by_role("button", name="Done").click()
        expect(page.get_by_text("everybody at example.org")).to_be_visible()
        expect(page.get_by_text("asked by phone")).to_have_count(2)
        with page.expect_download() as download:
            page.get_by_role("link", name="As CSV").click()
        rows = list(csv.reader(Path(download.value.path()).read_text("utf-8-sig").splitlines()))
        self.assertEqual([row[1] for row in rows[1:]], ["asked by phone"] * 2)
        page.get_by_role("button", name="Remove ines@example.com").click()
        expect(page.get_by_text("ines@example.com")).to_have_count(0)
        # What went out comes in again.
        page.get_by_role("button", name="Add").click()
        page.locator("input[type=file]").set_input_files(str(download.value.path()))
        page.get_by_role("dialog").get_by_role("button", name="Add 2 entries").click()
        expect(page.get_by_role("dialog")).to_be_hidden()
        expect(page.get_by_text("ines@example.com")).to_be_visible()
        self.assertEqual(Suppression.objects.of(self.workspace).count(), 2)

    def test_submissions_are_found_marked_and_removed(self) -> None:
        for name in ("ines", "bo", "cem"):
            self.world.arrive(f"{name}@example.com", look="moon")
        page = self.page
        page.goto(f"{self.at}/submissions")
        expect(page.get_by_text("3 submissions")).to_be_visible()
        page.get_by_label("Mark bo@example.com").check()
        page.get_by_role("button", name="Mark 1 as test").click()
        # Tests are not shown unless they are asked for.
        expect(page.get_by_text("2 submissions")).to_be_visible()
        page.get_by_label("Tests").click()
        page.get_by_role("option", name="only tests").click()
        expect(page.get_by_role("row", name=re.compile("bo@example.com"))).to_contain_text("test")
        page.goto(f"{self.at}/submissions")
        page.get_by_label("Address or answer").fill("cem")
        expect(page.get_by_text("1 submission", exact=True)).to_be_visible()
        page.get_by_label("Mark cem@example.com").check()
        page.get_by_role("button", name="Remove 1").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Cancel").click()
        self.assertEqual(Submission.objects.of(self.workspace).count(), 3)
        page.get_by_role("button", name="Remove 1").click()
        dialog.get_by_label("Also remove 1 person and everything known of them").check()
        dialog.get_by_role("button", name="Remove").click()
        expect(page.get_by_text("0 submissions")).to_be_visible()
        self.assertFalse(Subscriber.objects.of(self.workspace).filter(address="cem@example.com"))

    def test_back_to_an_earlier_revision(self) -> None:
        source = self.world.source
        live = RouteDocument.model_validate(source.revisions.get(state="live").document)
        save_route_draft(source, live.model_copy(update={"then": live.then[:1]}), None, None)
        turn_on(source, self.world.member, "Only the tag")
        page = self.page
        page.goto(f"{self.at}/sources/{source.pk}/revisions/1")
        page.get_by_role("button", name="Restore as draft").click()
        page.wait_for_url(re.compile(f"/sources/{source.pk}$"))
        expect(page.get_by_role("region", name="Then")).to_contain_text("First telescope")
        draft = source.revisions.get(state="draft")
        self.assertEqual(len(RouteDocument.model_validate(draft.document).then), 3)

    def test_a_sequence_and_its_earlier_revision(self) -> None:
        page, at = self.page, f"{self.at}/sequences/{self.world.sequence.pk}"
        page.goto(at)
        page.get_by_role("button", name=re.compile("^wait 1 day")).click()
        page.get_by_label("Wait for").fill("3")
        expect(page.get_by_role("button", name="Turn on 1 change")).to_be_visible()
        page.get_by_role("button", name=TURN_ON).click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("step 2: wait 1 day → wait 3 days")
        dialog.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("link", name="revision 2").click()
        expect(page.get_by_text("step 2: wait 1 day → wait 3 days")).to_be_visible()
        page.goto(f"{at}/revisions/1")
        page.get_by_role("button", name="Restore as draft").click()
        expect(page.get_by_role("button", name=re.compile("^wait 1 day"))).to_be_visible()
        expect(page.get_by_role("button", name="Turn on 1 change")).to_be_visible()

    def test_dates_times_and_numbers_as_the_member_writes_them(self) -> None:
        page = self.page
        page.goto(f"{self.at}/settings")
        band = page.get_by_role("region", name="Dates and numbers")
        expect(band).to_contain_text("Tue, 24 Nov 2026, 14:30, 12,345 people")
        for label, choice in (
            ("Dates", "Nov 24, 2026"),
            ("Times", "2:30 pm"),
            ("Numbers", "12.345,6"),
        ):
            band.get_by_label(label, exact=True).click()
            page.get_by_role("option", name=choice).click()
            expect(band.get_by_label(label, exact=True)).to_contain_text(choice)
            # All is shown anew, and one goes on where one was.
            expect(band.get_by_label(label, exact=True)).to_be_focused()
        expect(band).to_contain_text("Tue, Nov 24, 2026, 2:30 PM, 12.345 people")
        page.goto(f"{self.at}/submissions")
        parts = page.get_by_role("group", name="From").get_by_role("spinbutton")
        expect(parts).to_have_count(3)
        self.assertEqual(
            [one.get_attribute("aria-label") for one in parts.all()], ["Month", "Day", "Year"]
        )

    def test_settings_that_cannot_be_are_refused_at_their_box(self) -> None:
        page = self.page
        page.goto(f"{self.at}/settings")
        page.get_by_label("From address").fill("nonsense")
        page.get_by_label("Postal address").fill("2 Moor Lane")
        page.get_by_role("button", name="Save settings").click()
        expect(page.get_by_label("From address")).to_have_attribute("aria-invalid", "true")
        expect(page.get_by_label("Postal address")).to_have_value("2 Moor Lane")
        page.get_by_label("From address").fill("hello@larkmoor.example")
        page.get_by_role("button", name="Save settings").click()
        expect(page.get_by_role("status").filter(has_text=re.compile("^Saved$"))).to_be_visible()
        self.workspace.refresh_from_db()
        self.assertEqual(self.workspace.postal_address, "2 Moor Lane")
        # Whoever leaves with changes is asked first.
        page.get_by_label("Postal address").fill("3 Moor Lane")
        expect(page.get_by_text("Not saved yet")).to_be_visible()
        page.get_by_role("link", name="Desk", exact=True).click()
        asked = page.get_by_role("dialog")
        asked.get_by_role("button", name="Stay here").click()
        expect(page.get_by_label("Postal address")).to_have_value("3 Moor Lane")
        page.get_by_role("link", name="Desk", exact=True).click()
        asked.get_by_role("button", name="Leave without saving").click()
        expect(page.get_by_role("heading", name="Desk")).to_be_visible()
        self.workspace.refresh_from_db()
        self.assertEqual(self.workspace.postal_address, "2 Moor Lane")
