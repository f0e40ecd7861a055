"""A sequence of three lanes built from an empty sheet, rehearsed, tried, turned on, walked through by
strangers, and changed while it is live; in Chromium."""

import re

from playwright.sync_api import Page, expect

from core.deciding import ConsentLine, RecordEvent, RouteDocument, Rule, StartSequence
from core.messages import simple_message
from core.reading import Form, Question, ReadLine
from server.mail.editing import make_message, save_message
from server.people.models import Field
from server.routes.actions import turn_on
from server.sequences.models import Run, Sequence
from server.sources.actions import make_source, save_route_draft
from tests.browser.case import TURN_ON, BrowserCase, wait_until
from tests.browser.test_whole_path import pick
from tests.world import make_world

MESSAGES = ("Your calendar", "What to look for", "Your sheet", "Moon phases", "The dome")


class ThreeLanes(BrowserCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        for name in MESSAGES:
            row = make_message(self.workspace, name)
            text = simple_message(name, body="<p>Hello {{ first_name | default: 'you' }}</p>")
            save_message(row, text, None, None)
        self.shop = self.form("Shop", (Rule(id="t1", action=RecordEvent(name="bought")),))
        self.page = self.open()
        self.sign_in(self.page, self.world.user.email)
        self.at = f"{self.live_server_url}/w/{self.workspace.slug}"

    def form(self, name: str, rules: tuple[Rule, ...]) -> str:
        """A form that asks for the address alone, turned on; where it is."""
        email = str(Field.objects.of(self.workspace).get(key="email").pk)
        source = make_source(self.workspace, name, self.world.member)
        document = RouteDocument(
            form=Form(
                title=name,
                questions=(
                    Question(id="q1", name="email", type="email", label="Email", required=True),
                ),
            ),
            read_as=(ReadLine(id="r1", question="email", field=email),),
            consent=(
                ConsentLine(id="c1", list=str(self.world.news.pk), wording="You get the news."),
            ),
            then=rules,
        )
        save_route_draft(source, document, 1, self.world.member)
        turn_on(source, self.world.member, "first")
        return f"{self.live_server_url}/f/{source.key}"

    def test_from_an_empty_sheet_to_figures(self) -> None:
        page = self.page
        self.build(page)
        self.rehearse(page)
        self.try_it(page)
        self.turn_on(page)
        row = Sequence.objects.of(self.workspace).get(name="Three guides")
        guides = self.form("Guides", (Rule(id="t1", action=StartSequence(sequence=str(row.pk))),))
        self.strangers_walk_through(guides, row)
        page.goto(f"{self.at}/sequences/{row.pk}")
        self.figures(page)
        self.change_it_live(page)

    def build(self, page: Page) -> None:
        page.goto(f"{self.at}/sequences")
        page.get_by_role("button", name="New sequence").click()
        page.get_by_label("What is it for?").fill("Three guides")
        page.get_by_role("button", name="Create sequence").click()
        page.get_by_role("button", name="Emails of").click()
        pick(page, "Its emails belong to the list", "Open-night news")
        page.get_by_role("button", name="Second entry").click()
        page.get_by_role("radio", name="Start over").check()
        self.send(page, 0, "Your guide")
        self.add(page, 0, "Wait for some time")
        self.add(page, 0, "Split by conditions")
        panel = page.get_by_role("complementary")
        panel.get_by_role("button", name="Add condition").click()
        page.get_by_role("menuitem", name="a tag").click()
        pick(page, "Tag", "moon")
        panel.get_by_label("Name (optional)").fill("the Moon")
        self.send(page, 0, "What to look for")
        for number, name in enumerate(("Your calendar", "Your sheet"), start=1):
            page.get_by_role("button", name="Add a lane").click()
            self.send(page, number, name)
        page.get_by_role("button", name="Add a lane").click()
        page.get_by_label("Name of the lane").fill("Long series")
        for number in range(3):
            self.close(page)
            page.get_by_role("region", name="Lanes").get_by_role(
                "button", name="ABC"[number], exact=True
            ).click()
            page.get_by_label("After its last step").click()
            page.get_by_role("option", name="Lane Long series, from the top").click()
        # A lane that is only joined stands below the others.
        expect(page.get_by_text("joined by A, B, C")).to_be_visible()
        self.add(page, 3, "Wait for some time")
        page.get_by_label("Wait for").fill("5")
        self.send(page, 3, "Moon phases")
        page.get_by_role("button", name="Add a door").click()
        page.get_by_role("menuitem", name="A tag is added").click()
        pick(page, "Tag", "planets")
        # Nobody asks for a calendar by being tagged, and lane A begins with the promised guide.
        expect(page.get_by_role("button", name="Pre-flight: 1 note")).to_be_visible()
        page.get_by_role("complementary").get_by_role("button", name="Remove").click()
        page.get_by_role("button", name="Add a door").click()
        page.get_by_role("menuitem", name="An event happens").click()
        page.get_by_label("Name of the event").fill("asked for the calendar")
        page.get_by_label("Leads to lane").click()
        page.get_by_role("option", name="B", exact=True).click()
        page.get_by_role("button", name="Add a goal").click()
        page.get_by_label("Name of the goal").fill("bought a telescope")
        page.get_by_label("Reached by the event").fill("bought")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        expect(page.get_by_role("button", name="Pre-flight: clear")).to_be_visible()
        lanes = page.get_by_role("region", name="Lanes")
        expect(lanes.get_by_text("+1 day", exact=True)).to_be_visible()
        expect(lanes.get_by_text("event “asked for the calendar”")).to_be_visible()

    def close(self, page: Page) -> None:
        """Where a panel is open, that may lie over a lane."""
        if page.get_by_role("complementary").count():
            page.get_by_role("button", name="Close", exact=True).click()

    def add(self, page: Page, lane: int, kind: str) -> None:
        self.close(page)
        page.get_by_role("button", name="Add a step", exact=True).nth(lane).click()
        page.get_by_role("menuitem", name=kind, exact=True).click()

    def send(self, page: Page, lane: int, message: str) -> None:
        self.add(page, lane, "Send an email")
        pick(page, "Message", message)

    def rehearse(self, page: Page) -> None:
        page.get_by_role("button", name="Rehearse").click()
        panel = page.get_by_role("complementary")
        expect(panel.get_by_text("3 emails", exact=True)).to_be_visible()
        panel.get_by_role("button", name="Assume something").click()
        page.get_by_role("menuitem", name="An event happens").click()
        panel.get_by_label("Name of the event").fill("bought")
        panel.get_by_label("After").fill("2")
        expect(panel.get_by_text("goal reached: bought a telescope")).to_be_visible()
        expect(panel.get_by_text("2 emails", exact=True)).to_be_visible()
        # Each email opens as the person would see it.
        panel.get_by_role("button", name="What to look for").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.frame_locator("iframe").get_by_text("Hello")).to_be_visible()
        dialog.get_by_role("button", name="Close").click()

    def try_it(self, page: Page) -> None:
        page.get_by_role("button", name="Send all to me").click()
        asked = page.get_by_role("dialog", name="Send yourself 2 emails?")
        expect(asked).to_be_visible()
        self.assertEqual(self.mailbox.list(), [])
        asked.get_by_role("button", name="Send", exact=True).click()
        expect(page.get_by_text("2 test emails sent to noor@larkmoor.example.")).to_be_visible()
        wait_until(lambda: len(self.mailbox.list()) == 2)
        subjects = sorted(str(one.message["Subject"]) for one in self.mailbox.list())
        self.assertTrue(subjects[0].startswith("[Test 1, "), subjects)
        self.assertFalse(Run.everywhere.filter(sequence__name="Three guides").exists())
        page.get_by_role("button", name="Close rehearsal").click()
        self.mailbox.empty()

    def turn_on(self, page: Page) -> None:
        page.get_by_role("button", name="Turn on", exact=True).click()
        page.get_by_role("dialog").get_by_role("button", name="Turn on").click()
        expect(page.get_by_text("live", exact=True).first).to_be_visible()

    def visit(self, form: str, address: str) -> None:
        """A stranger fills in a form."""
        page = self.open(390, 780)
        page.goto(form)
        page.wait_for_timeout(1_600)
        page.get_by_label("Email").fill(address)
        page.locator("button[type=submit]").click()
        page.wait_for_load_state("networkidle")

    def strangers_walk_through(self, guides: str, row: Sequence) -> None:
        for name in ("buys", "twice", "leaves"):
            self.visit(guides, f"{name}@example.com")
        wait_until(lambda: len(self.mailbox.list()) == 3)
        self.clock("a day")
        wait_until(lambda: len(self.mailbox.list()) == 6)
        self.visit(self.shop, "buys@example.com")
        wait_until(lambda: row.runs.filter(ended="goal").count() == 1)
        self.visit(guides, "twice@example.com")
        wait_until(lambda: row.runs.filter(ended="started_over").count() == 1)
        page = self.open()
        page.goto(f"{self.outside}/inboxes/leaves@example.com/")
        page.get_by_role("link", name="What to look for").click()
        link = page.frame_locator("iframe").get_by_role("link", name="Unsubscribe")
        page.goto(link.get_attribute("href") or "")
        page.get_by_role("button", name="Unsubscribe from Open-night news").click()
        wait_until(lambda: row.runs.filter(ended="unsubscribed").count() == 1)
        self.clock("a week")
        wait_until(lambda: row.runs.filter(ended="finished").count() == 1)

    def clock(self, by: str) -> None:
        page = self.open()
        page.goto(f"{self.outside}/clock/")
        page.get_by_role("button", name=f"+ {by}", exact=True).click()
        page.wait_for_load_state("networkidle")

    def figures(self, page: Page) -> None:
        expect(page.get_by_role("button", name="4 entered")).to_be_visible()
        expect(page.get_by_text("33.3%").first).to_be_visible()
        for said in ("1 finished", "1 reached the goal", "1 left: unsubscribed", "1 started over"):
            expect(page.get_by_role("button", name=said)).to_be_visible()
        page.get_by_role("button", name="1 reached the goal").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_role("link", name="buys@example.com")).to_be_visible()
        dialog.get_by_role("button", name="Close").click()
        band = page.get_by_role("region", name="How it goes")
        expect(band.get_by_role("row", name="Total 3 1 33.3%")).to_be_visible()

    def change_it_live(self, page: Page) -> None:
        # One more comes in, and stands at the wait, which is removed.
        page.get_by_role("button", name="Add people").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("combobox", name="Person").fill("buys")
        page.get_by_role("option", name="buys@example.com").click()
        dialog.get_by_role("button", name="Add", exact=True).click()
        expect(dialog.get_by_text("buys@example.com has entered.")).to_be_visible()
        dialog.get_by_role("button", name="Close").click()
        page.get_by_role("button", name=re.compile(r"^wait 1 day")).click()
        page.get_by_role("complementary").get_by_role("button", name="Remove").click()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name=TURN_ON).click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_text("1 step is removed")).to_be_visible()
        expect(dialog.get_by_label("wait 1 day: 1 person stands here")).to_be_visible()
        dialog.get_by_label("wait 1 day: 1 person stands here").click()
        page.get_by_role("option", name="Leave the sequence").click()
        dialog.get_by_role("button", name=TURN_ON).click()
        expect(dialog).to_be_hidden()
        runs = Run.everywhere.filter(sequence__name="Three guides", ended="step_gone")
        wait_until(lambda: runs.count() == 1)
