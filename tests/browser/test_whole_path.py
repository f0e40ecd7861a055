"""The whole path, as a specialist and a stranger walk it, from an empty workspace."""

import re

from playwright.sync_api import Page, expect

from tests.browser.case import BrowserCase, wait_until
from tests.world import make_empty_workspace, make_user

SPECIALIST = "noor@larkmoor.example"
STRANGER = "Ines@Example.com"


class WholePath(BrowserCase):
    def test_from_the_form_to_the_last_email(self) -> None:
        make_empty_workspace("Larkmoor", make_user(SPECIALIST))
        page = self.open()
        self.sign_in(page, SPECIALIST)
        expect(page.get_by_text("Make the form, and decide")).to_be_visible()
        self.write_messages(page)
        self.make_sequence(page)
        self.make_form(page)
        self.turn_on(page)
        form = page.get_by_role("link", name="/f/first-telescope-guide").get_attribute("href")
        assert form is not None
        self.stranger_sends_the_form(form)
        self.specialist_finds_the_stranger(page)
        self.emails_follow()

    def write_messages(self, page: Page) -> None:
        for name in ("Your guide", "Which one fits", "Open night"):
            page.get_by_role("link", name="Messages", exact=True).first.click()
            page.get_by_role("button", name="New message").click()
            page.get_by_label("What is it for?").fill(name)
            page.get_by_role("button", name="Create message").click()
            page.get_by_role("textbox", name="Subject").fill(f"{name} for you")
            text = page.get_by_role("textbox", name="Text of the message")
            text.click()
            page.keyboard.type("Hello ")
            page.get_by_role("button", name="Insert a field", exact=True).click()
            page.get_by_role("menuitem", name="First name").click()
            page.get_by_label("Fallback").fill("there")
            text.click(position={"x": 4, "y": 8})
            page.keyboard.press("End")
            page.keyboard.type(", thank you.")
            expect(page.get_by_text("Draft saved")).to_be_visible()
            expect(text.locator(".field-chip")).to_contain_text("First name, or “there”")
            expect(
                page.frame_locator("iframe").get_by_text("Hello there, thank you.")
            ).to_be_visible()
            expect(page.get_by_role("button", name="Pre-flight: clear")).to_be_visible()

    def make_sequence(self, page: Page) -> None:
        page.get_by_role("link", name="Sequences", exact=True).first.click()
        page.get_by_role("button", name="New sequence").click()
        page.get_by_label("What is it for?").fill("First telescope")
        page.get_by_role("button", name="Create sequence").click()
        page.get_by_role("button", name="Emails of").click()
        pick(page, "Its emails belong to the list", "Open-night news", make="list")
        for number, name in enumerate(("Your guide", "Which one fits", "Open night")):
            for kind in ("Wait for some time", "Send an email") if number else ("Send an email",):
                page.get_by_role("button", name="Add a step", exact=True).click()
                page.get_by_role("menuitem", name=kind, exact=True).click()
            pick(page, "Message", name)
        expect(page.get_by_text("Draft saved")).to_be_visible()
        expect(page.get_by_text("+2 days", exact=True)).to_be_visible()
        self.turn_on(page)

    def make_form(self, page: Page) -> None:
        page.get_by_role("link", name="Sources", exact=True).first.click()
        page.get_by_role("button", name="New source").click()
        page.get_by_label("What is it for?").fill("First telescope guide")
        page.get_by_role("button", name="Make the form").click()
        add_question(page, "name", "First name")
        add_question(page, "single choice", "What do you look at?", choices=["Moon", "Planets"])
        page.get_by_role("button", name="Map “First name”").click()
        # The field for the third does not exist yet: it is made without leaving the line.
        page.get_by_role("button", name="Map “What do you look at?”").click()
        expect(page.get_by_text("No field is chosen").first).to_be_visible()
        pick(page, "Field", "Interest", make="single-choice field")
        page.get_by_role("button", name="Add a list").click()
        pick(page, "Subscribe to the list", "Open-night news")
        page.get_by_label("What the visitor reads").fill("You also get Open-night news.")
        page.get_by_role("button", name="Tag everybody").click()
        pick(page, "Tags", "guide", make="tag", exact=True)
        page.get_by_role("button", name="Tag by answer").click()
        pick(page, "Tags for Planets", "looks at planets", make="tag")
        page.get_by_role("button", name="Start a sequence").click()
        pick(page, "Sequence", "First telescope", exact=True)
        page.get_by_role("button", name="Edit what the visitor sees").click()
        page.get_by_label("Text", exact=True).fill("The guide is on its way.")
        self.sample(page)
        expect(page.get_by_text("Draft saved")).to_be_visible()

    def sample(self, page: Page) -> None:
        """What is typed in on the right is decided by the server, line by line."""
        page.get_by_label("Sample: What do you look at?").fill("planets")
        page.get_by_label("Sample: First name").fill("INES")
        arrives = page.get_by_role("region", name="Read as")
        expect(arrives.get_by_text("Ines@example.com", exact=False)).to_be_visible()
        expect(arrives.get_by_text("Ines new")).to_be_visible()
        expect(arrives.get_by_text("Planets new")).to_be_visible()
        then = page.get_by_role("region", name="Then")
        expect(then.get_by_text("+ looks at planets")).to_be_visible()
        expect(then.get_by_text("starts First telescope")).to_be_visible()
        expect(page.get_by_text("subscribed to Open-night news")).to_be_visible()

    def turn_on(self, page: Page) -> None:
        page.get_by_role("button", name="Turn on", exact=True).click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Note for the history").fill("First edition")
        dialog.get_by_role("button", name="Turn on").click()
        expect(dialog).to_be_hidden()
        expect(page.get_by_text("live", exact=True).first).to_be_visible()

    def stranger_sends_the_form(self, form: str) -> None:
        page = self.open(390, 780)
        page.goto(form)
        expect(page.get_by_text("You also get Open-night news.")).to_be_visible()
        page.wait_for_timeout(1_600)  # nobody answers a form faster, and who does is held
        page.get_by_label("Email").fill("ines at example")
        page.get_by_label("First name").fill("ines")
        page.get_by_role("button", name="Send it to me").click()
        expect(page.get_by_role("alert")).to_contain_text("enter a full email address")
        expect(page.get_by_label("Email")).to_have_value("ines at example")
        expect(page.get_by_label("Email")).to_be_focused()
        page.get_by_label("Email").fill(STRANGER)
        page.get_by_label("Planets").check()
        page.get_by_role("button", name="Send it to me").click()
        expect(page.get_by_text("The guide is on its way.")).to_be_visible()
        # Sending the same rendering again, by going back, is no second submission.
        page.reload()

    def specialist_finds_the_stranger(self, page: Page) -> None:
        lately = page.get_by_role("region", name="Recent")
        expect(lately.get_by_text("routed")).to_have_count(1)
        lately.get_by_role("link", name="Ines@example.com").click()
        expect(page.get_by_role("heading", name="Ines", exact=True)).to_be_visible()
        lists = page.get_by_role("region", name="Lists")
        expect(lists.get_by_text("subscribed", exact=True)).to_be_visible()
        expect(lists.get_by_text("You also get Open-night news.")).to_be_visible()
        tags = page.get_by_role("region", name="Tags")
        expect(tags).to_contain_text("looks at planets because rule 2: the answer to")
        expect(tags).to_contain_text("from First telescope guide, revision 1, submission")
        tags.get_by_role("link", name="revision 1").last.click()
        expect(
            page.get_by_role("heading", name="First telescope guide, revision 1")
        ).to_be_visible()
        page.go_back()
        page.get_by_role("link", name="Lists", exact=True).click()
        page.get_by_role("link", name="1 subscriber", exact=True).click()
        expect(page.get_by_role("link", name="Ines", exact=True)).to_be_visible()

    def emails_follow(self) -> None:
        self.expect_emails(1)
        page = self.open()
        page.goto(f"{self.outside}/inboxes/Ines@example.com/")
        page.get_by_role("link", name="Your guide for you").click()
        expect(page.frame_locator("iframe").get_by_text("Hello Ines, thank you.")).to_be_visible()
        self.move_the_clock(page, "a day")
        self.expect_emails(2)
        page.goto(f"{self.outside}/inboxes/Ines@example.com/")
        page.get_by_role("link", name="Which one fits for you").click()
        page.get_by_role("link", name="Plain text").click()
        expect(page.locator("pre")).to_contain_text("Hello Ines")
        page.get_by_role("link", name="As it looks").click()
        link = page.frame_locator("iframe").get_by_role("link", name="Unsubscribe")
        page.goto(link.get_attribute("href") or "")
        page.get_by_role("button", name="Unsubscribe from Open-night news").click()
        expect(page.get_by_role("heading", name="You are unsubscribed")).to_be_visible()
        self.move_the_clock(page, "a week")
        self.expect_emails(2)

    def move_the_clock(self, page: Page, by: str) -> None:
        page.goto(f"{self.outside}/clock/")
        page.get_by_role("button", name=f"+ {by}", exact=True).click()
        page.wait_for_load_state("networkidle")

    def expect_emails(self, count: int) -> None:
        wait_until(lambda: len(self.mailbox.list()) >= count)
        self.assertEqual(len(self.mailbox.list()), count)


def pick(
    page: Page, label: str, name: str, *, make: str = "", at: int = 0, exact: bool = False
) -> None:
    """Choose from a list that one can type into; with `make`, make what is missing."""
    box = page.get_by_role("combobox", name=label, exact=exact).nth(at)
    box.fill(name)
    option = f"Create the {make} “{name}”" if make else name
    # A tag stands there with how many people have it.
    name_and_count = re.compile(rf"^{re.escape(option)}( ?[\d,]+)?$")
    page.get_by_role("option", name=name_and_count).click()
    # Of one choice it stands in the box then; of several the box is free for the next.
    expect(box).to_have_value("" if label.startswith("Tags") else name)


def add_question(page: Page, kind: str, label: str, choices: list[str] | None = None) -> None:
    """Add question to the form."""
    page.get_by_role("button", name="Add question").click()
    page.get_by_role("menuitem", name=kind, exact=True).click()
    page.get_by_label("Question", exact=True).first.fill(label)
    for choice in choices or []:
        page.get_by_label("Another choice").fill(choice)
        page.keyboard.press("Enter")
    page.get_by_role("button", name="Done").click()
