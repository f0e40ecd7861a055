"""An audience through the screen: from a filter of People to its second revision."""

import re

from playwright.sync_api import expect

from server.audiences.models import Audience, live_document
from server.people.models import Subscriber
from tests.browser.case import MemberCase


class Audiences(MemberCase):
    def test_from_a_filter_to_its_second_revision(self) -> None:
        page = self.page
        for number, look in enumerate(("moon", "planets", "moon")):
            self.world.arrive(f"person{number}@example.com", look=look)
        Subscriber.objects.of(self.world.workspace).update(score=0)
        page.goto(f"{self.at}/people")
        page.get_by_role("button", name="Filter", exact=True).click()
        self.add("a tag")
        page.get_by_label("Tag", exact=True).click()
        page.get_by_role("option", name="moon").click()
        expect(page.get_by_text("2 people fit")).to_be_visible()
        page.get_by_role("button", name="Save as an audience").click()
        dialog = page.get_by_role("dialog")
        # The name begins with the condition in words.
        name = dialog.get_by_label("What do you call these people?")
        expect(name).to_have_value("has the tag moon")
        name.fill("Moon people")
        dialog.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("heading", name="Moon people")).to_be_visible()
        size = page.get_by_role("region", name="How many")
        expect(size).to_contain_text("67% of 3 people")
        # A second part: the draft is counted at once, and somebody misses just that part.
        page.get_by_role("button", name="Edit condition").click()
        self.add("the score")
        page.get_by_label("Score", exact=True).fill("5")
        expect(size).to_contain_text("0% of 3 people")
        ten = page.get_by_role("region", name="Ten of them")
        expect(ten).to_contain_text("Would fit but for one part")
        expect(ten).to_contain_text("✗ the score is at least 5: 0")
        [row] = Audience.objects.of(self.world.workspace)
        self.assertEqual(len(live_document(row).who.of), 1)
        page.get_by_role("button", name=re.compile("^Turn on")).click()
        expect(dialog).to_contain_text("New: “the score is at least 5”.")
        dialog.get_by_role("button", name=re.compile("^Turn on")).click()
        expect(page.get_by_text("Always current")).to_be_visible()
        self.assertEqual(len(live_document(row).who.of), 2)
        page.get_by_role("navigation", name="Rooms").get_by_role("link", name="Audiences").click()
        line = page.get_by_role("row", name=re.compile("Moon people"))
        expect(line).to_contain_text("has the tag moon and the score is at least 5")
        page.get_by_role("link", name="Moon people").click()
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("menuitem", name="Delete").click()
        page.get_by_role("dialog").get_by_role("button", name="Delete", exact=True).click()
        expect(page.get_by_text("An audience is a saved condition")).to_be_visible()

    def test_from_a_list_a_tag_and_a_sequence(self) -> None:
        """What counts people leads to them as a filter, and the filter is kept by a name."""
        page, workspace = self.page, self.world.workspace
        for number, look in enumerate(("moon", "planets", "moon")):
            self.world.arrive(f"person{number}@example.com", look=look)
        page.goto(f"{self.at}/lists")
        page.get_by_role("link", name="2 people").click()
        page.get_by_role("button", name="Edit condition").press("Enter")
        expect(page.get_by_role("button", name="Add condition")).to_be_focused()
        self.keep("has the tag moon", "Moon")
        page.goto(f"{self.at}/lists")
        page.get_by_role("link", name="3 subscribers").click()
        self.keep("is subscribed to Open-night news", "News")
        page.goto(f"{self.at}/sequences/{self.world.sequence.pk}")
        page.get_by_role("button", name="3 entered").click()
        self.keep(f"Entered {self.world.sequence.name}", "Entered", narrowed=False)
        page.goto(f"{self.at}/audiences")
        for name, count in (("Moon", 2), ("News", 3), ("Entered", 3)):
            expect(page.get_by_role("row", name=re.compile(f"^{name} "))).to_contain_text(
                str(count)
            )
        kinds = [
            one.kind for row in Audience.objects.of(workspace) for one in live_document(row).who.of
        ]
        self.assertEqual(sorted(kinds), ["membership", "run", "tag"])

    def test_the_people_of_a_moment(self) -> None:
        """Frozen, renamed, left out of a filter; deleted only once nothing names the group."""
        page, workspace = self.page, self.world.workspace
        for number, look in enumerate(("moon", "planets", "moon")):
            self.world.arrive(f"person{number}@example.com", look=look)
        page.goto(f"{self.at}/lists")
        page.get_by_role("link", name="2 people").click()
        self.keep("has the tag moon", "Moon people")
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("menuitem", name="Freeze these people").click()
        dialog = page.get_by_role("dialog").last
        box = dialog.get_by_label("What do you call this group?")
        expect(box).to_have_value("Moon people")
        box.fill("Moon people of March")
        dialog.get_by_role("button", name="Freeze", exact=True).click()
        frozen = page.get_by_role("region", name="Frozen groups")
        row = frozen.get_by_role("row", name=re.compile("^Moon people of March"))
        expect(row).to_contain_text("has the tag moon")
        # Another one who fits later is in the audience, and not in the group.
        self.world.arrive("person7@example.com", look="moon")
        page.goto(f"{self.at}/people")
        page.get_by_role("button", name="Filter", exact=True).click()
        self.add("a frozen group")
        page.get_by_label("Frozen group", exact=True).click()
        page.get_by_role("option", name="Moon people of March").click()
        expect(page.get_by_text("2 people fit")).to_be_visible()
        self.keep("is in the group Moon people of March", "Tried")
        page.goto(f"{self.at}/audiences")
        self.act_on("Moon people of March", "Delete")
        dialog.get_by_role("button", name="Delete", exact=True).click()
        expect(dialog).to_contain_text("is used by the audience “Tried”")
        dialog.get_by_role("button", name="Cancel").click()
        self.act_on("Moon people of March", "Rename")
        dialog.get_by_label("Name").fill("March")
        dialog.get_by_role("button", name="Rename", exact=True).click()
        expect(page.get_by_role("row", name=re.compile("^Tried"))).to_contain_text(
            "is in the group March"
        )
        Audience.objects.of(workspace).get(name="Tried").delete()
        self.act_on("March", "Delete")
        dialog.get_by_role("button", name="Delete", exact=True).click()
        expect(frozen).to_have_count(0)

    def test_a_condition_is_typed(self) -> None:
        """Proposals by keyboard; what is not understood is said, and could be meant; the parts say the same."""
        page = self.page
        for number, look in enumerate(("moon", "planets", "moon")):
            self.world.arrive(f"person{number}@example.com", look=look)
        page.goto(f"{self.at}/people")
        page.get_by_role("button", name="Filter", exact=True).click()
        page.get_by_role("button", name="Type it instead").click()
        box = page.get_by_role("combobox", name="Who, in words")
        box.press_sequentially("has the tag mo")
        option = page.get_by_role("option", name="moon")
        expect(option).to_be_visible()
        box.press("ArrowDown")
        box.press("Enter")
        expect(box).to_have_value("has the tag moon")
        expect(page.get_by_text("2 people fit")).to_be_visible()
        box.press_sequentially(" and is subscribd to Open-night news")
        said = page.get_by_text("“subscribd” is not understood here.")
        expect(said).to_be_visible()
        # The condition stays what was understood last.
        expect(page.get_by_text("2 people fit")).to_be_visible()
        box.fill("has the tag plannets")
        expect(page.get_by_text("There is no tag named “plannets”.")).to_be_visible()
        page.get_by_role("button", name="planets", exact=True).click()
        expect(box).to_have_value("has the tag planets")
        expect(page.get_by_text("1 person fits")).to_be_visible()
        page.get_by_role("button", name="Choose the parts instead").click()
        expect(page.get_by_label("Tag", exact=True)).to_have_value("planets")

    def test_typing_begins_with_what_is_there_and_follows_undo(self) -> None:
        page, workspace = self.page, self.world.workspace
        for look in ("moon", "planets"):
            self.world.arrive(f"{look}@example.com", look=look)
        page.goto(f"{self.at}/lists")
        page.get_by_role("link", name="1 person").first.click()
        self.keep("has the tag moon", "Moon")
        page.get_by_role("button", name="Edit condition").click()
        page.get_by_role("button", name="Type it instead").click()
        box = page.get_by_role("combobox", name="Who, in words")
        expect(box).to_have_value("has the tag moon")
        box.press("End")
        box.press_sequentially(" or has the tag planets")
        box.press("Escape")
        size = page.get_by_role("region", name="How many")
        expect(size).to_contain_text("100% of 2 people")
        [row] = Audience.objects.of(workspace)
        page.get_by_role("button", name="Undo").click()
        expect(size).to_contain_text("50% of 2 people")
        expect(box).to_have_value("has the tag moon")
        # Opened and looked at, nothing is changed by it.
        page.get_by_role("button", name="Choose the parts instead").click()
        page.get_by_role("button", name="Type it instead").click()
        expect(box).to_have_value("has the tag moon")
        expect(page.get_by_role("button", name="Undo")).to_be_disabled()
        self.assertEqual(live_document(row).who.kind, "all")

    def act_on(self, group: str, act: str) -> None:
        """What the menu of a frozen group offers."""
        self.page.get_by_role("button", name=f"More: {group}").click()
        self.page.get_by_role("menuitem", name=act).click()

    def keep(self, sentence: str, name: str, *, narrowed: bool = True) -> None:
        """Save who is shown as an audience."""
        page, dialog = self.page, self.page.get_by_role("dialog").last
        if narrowed:
            expect(page.get_by_role("region", name="Filter")).to_contain_text(sentence)
        page.get_by_role("button", name="Save as an audience").click()
        box = dialog.get_by_label("What do you call these people?")
        expect(box).to_have_value(sentence)
        box.fill(name)
        dialog.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("heading", name=name, exact=True)).to_be_visible()

    def add(self, kind: str) -> None:
        """Add a comparison of a kind."""
        self.page.get_by_role("button", name="Add condition").click()
        self.page.get_by_role("menuitem", name=kind, exact=True).click()
