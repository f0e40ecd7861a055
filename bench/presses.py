"""How many presses a path takes: two of them written through the screen, each press counted.

A press, a filled box and a chosen thing count one each; what stands there already is taken.
"""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page, expect, sync_playwright

from server.sequences.models import Sequence
from server.sources.models import Source
from server.workspaces.models import Workspace

from .screens import browser_of, let_in, signed_in

CONTACT_AIM = 36
NURTURE_AIM = 160
LANES = ("Telescopes", "Night sky", "Star photos")
EMAILS = 6
"""In each lane."""


class Hand:
    """A hand on a page, which counts."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.count = 0

    def press(self, what: Locator) -> None:
        """A button, a link, a card."""
        self.count += 1
        what.click()

    def button(self, name: str | re.Pattern[str], within: Locator | None = None) -> None:
        """A button by its name."""
        exact = isinstance(name, str)
        self.press((within or self.page).get_by_role("button", name=name, exact=exact).first)

    def item(self, name: str) -> None:
        """What is chosen from a menu that is open."""
        self.press(self.page.get_by_role("menuitem", name=name, exact=True))

    def fill(self, box: Locator, text: str) -> None:
        """A box that is written into."""
        self.count += 1
        box.fill(text)

    def choose(self, label: str, name: str, shown: str | None = None) -> None:
        """A thing chosen, or made, in a box by typing its name."""
        self.count += 1
        box = self.page.get_by_role("combobox", name=label)
        box.click()
        box.fill(name)
        self.page.get_by_role("option", name=shown or name).first.click()

    def turned_on(self) -> None:
        """Turn it on, and wait until it is."""
        expect(self.page.get_by_text("Draft saved").first).to_be_visible()
        self.button("Turn on")
        self.button("Turn on", self.page.get_by_role("dialog"))
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        expect(self.page.get_by_text("live", exact=True).first).to_be_visible()


def presses(fresh: Callable[[], Any]) -> dict[str, Any]:
    """Presses for a contact form, and for a nurture sequence of 18 emails with three forms, both from the
    desk to live. The limits are the project's aims."""
    fresh()
    let_in()
    # What the first day of a workspace asks for, and not each path.
    Workspace.objects.update(
        sender_name="Bench", sender_address="news@example.com", postal_address="1 Moor Road, Hull"
    )
    with sync_playwright() as playwright:
        browser = browser_of(playwright)
        page = signed_in(browser)
        page.set_default_timeout(20_000)
        contact = _contact(Hand(page))
        nurture = _nurture(Hand(page))
        browser.close()
    _look()
    return {
        "value": nurture,
        "unit": "presses",
        "limit": NURTURE_AIM,
        "ratio": round(nurture / NURTURE_AIM, 2),
        "presses_contact": contact,
        "presses_nurture": nurture,
        "aim_contact": CONTACT_AIM,
    }


def _contact(hand: Hand) -> int:
    """Name, telephone and message are asked, everybody is tagged, a member gets a task, a thank-you."""
    page = hand.page
    hand.press(page.get_by_role("link", name="Sources", exact=True))
    hand.button("New source")
    hand.fill(page.get_by_label("What is it for?"), "Contact")
    hand.button("Make the form")
    for kind, label in (("name", "Your name"), ("phone", "Telephone"), ("long text", "Message")):
        hand.button("Add question")
        hand.item(kind)
        hand.fill(page.get_by_label("Question", exact=True), label)
    hand.button("Tag everybody")
    hand.choose("Tags", "contact", "contact")
    hand.button("Another rule …")
    hand.item("Make a task for the owner")
    hand.fill(page.get_by_label("What is to be done"), "Answer them")
    hand.button(re.compile("^Edit what the visitor sees"))
    hand.fill(page.get_by_label("Heading").last, "Thank you, we write back")
    hand.turned_on()
    return hand.count


def _nurture(hand: Hand) -> int:
    """A list, a goal, three lanes of six emails with waits, and a form that leads into each."""
    page = hand.page
    hand.press(page.get_by_role("link", name="Sequences", exact=True))
    hand.button("New sequence")
    hand.fill(page.get_by_label("What is it for?"), "First steps")
    hand.button("Create sequence")
    hand.button(re.compile("^Emails of"))
    hand.choose("Its emails belong to the list", "Stargazers", "Stargazers")
    for index, name in enumerate(LANES):
        if index:
            hand.button("Add a lane")
        else:
            hand.button("A")
        hand.fill(page.get_by_label("Name of the lane"), f"{'ABC'[index]} · {name}")
    hand.button("Close")
    for name in LANES:
        hand.button("Add a door")
        hand.item("Somebody sends a form")
        hand.fill(page.get_by_label("What is it for?"), f"{name} guide")
        hand.button("Make the form")
        expect(page.get_by_role("link", name=f"{name} guide")).to_be_visible()
    hand.button("Add a goal")
    hand.fill(page.get_by_label("Name of the goal"), "Bought a telescope")
    hand.fill(page.get_by_label("Reached by the event"), "bought")
    for index, name in enumerate(LANES):
        _lane(hand, f"{'ABC'[index]} · {name}")
    hand.turned_on()
    return hand.count


def _look() -> None:
    """Whether what was written is really there."""
    if Source.everywhere.get(name="Contact").state != "live":
        raise RuntimeError("the contact form is not live")
    sequence = Sequence.everywhere.get(name="First steps")
    document = sequence.revisions.get(state="live").document
    sent = [step for lane in document["lanes"] for step in lane["steps"] if step["kind"] == "send"]
    forms = Source.everywhere.filter(name__endswith="guide", state="live").count()
    if len(sent) != EMAILS * len(LANES) or forms != len(LANES):
        raise RuntimeError(f"{len(sent)} emails and {forms} forms are live")


def _lane(hand: Hand, lane: str) -> None:
    page = hand.page
    hand.button(f"Add a step at the top of {lane}")
    hand.item("Send an email")
    hand.button("Write a new email")
    hand.button("Write the letter")
    for number in range(EMAILS):
        letter = page.get_by_role("dialog")
        title = f"{lane}: letter {number + 1}"
        hand.fill(letter.get_by_label("Subject", exact=True), title)
        # Clicked and written into: a box that is filled.
        hand.press(letter.get_by_role("group", name=re.compile("^text 1")))
        page.keyboard.press("Control+a")
        page.keyboard.type(f"This is what {title} has to say.")
        if number < EMAILS - 1:
            hand.button("Add the next email", letter)
            expect(letter.get_by_label("Subject", exact=True)).to_have_value("")
    hand.button("Done", page.get_by_role("dialog"))
    for days in ("2", "4"):
        hand.press(_wait_in(page, lane))
        hand.fill(page.get_by_label("Wait for"), days)
    hand.button("Close")


def _wait_in(page: Page, lane: str) -> Locator:
    """The first wait of a day that stands below the head of a lane."""
    head = page.get_by_role("button", name=lane, exact=True).bounding_box()
    for wait in page.get_by_role("button", name=re.compile("^wait 1 day")).all():
        box = wait.bounding_box()
        if head and box and abs(box["x"] - head["x"]) < 100:
            return wait
    raise RuntimeError(f"no wait in {lane}")
