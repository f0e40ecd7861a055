"""Editing a sheet: typing fast, undo and redo, leaving on a bad connection, the keyboard alone."""

import re

from django.contrib.sessions.models import Session
from playwright.sync_api import Dialog, Locator, Page, Route, expect

from core.deciding import AddTags, ChangeScore, MakeTask, RouteDocument, Rule
from core.messages import TextBlock
from core.sequences import SequenceDocument
from server.mail.models import Message, shown_document
from server.people.models import Tag
from server.sequences.models import Sequence
from server.sources.actions import (
    make_source,
    route_of_revision,
    save_route_draft,
    shown_revision,
)
from server.sources.models import Source
from tests.browser.case import MemberCase
from tests.world import PASSWORD

WORDS = "Clear skies over the moor tonight, and the dome is open from dusk until the Moon sets. "
_ONE_AFTER_ANOTHER = """
let asked = 0;
const real = window.fetch;
window.fetch = async (...what) => {
  const late = 60 * asked++;
  const answer = await real(...what);
  await new Promise((done) => setTimeout(done, late));
  return answer;
};
"""
"""Each answer comes 60 milliseconds after that to what was asked for before it."""
_GOOD = 0.1
"""The most cumulative layout shift that is called good (Web Vitals, Google, "CLS")."""
_COUNT_SHIFTS = """
window.shifted = 0;
new PerformanceObserver((list) => {
  for (const one of list.getEntries()) if (!one.hadRecentInput) window.shifted += one.value;
}).observe({ type: "layout-shift", buffered: true });
"""
MOST_TABS = 160
"""To come by the keyboard from anywhere on a sheet to anywhere else."""
_TABS_A_STEP = 6
"""The most that a step of a sequence may cost (the project's aim), from the step before to its last box."""


class Editing(MemberCase):
    def setUp(self) -> None:
        super().setUp()
        self.workspace = self.world.workspace

    def stored(self) -> RouteDocument:
        return RouteDocument.model_validate(shown_revision(self.world.source).document)

    def heading(self) -> str:
        return self.stored().visitor_sees.heading

    def open_sheet(self) -> Page:
        self.page.goto(f"{self.at}/sources/{self.world.source.pk}")
        return self.page

    def open_heading(self) -> Locator:
        page = self.open_sheet()
        page.get_by_role("button", name="Edit what the visitor sees").click()
        return page.get_by_label("Heading")

    def saved(self) -> None:
        expect(self.page.get_by_text("Draft saved")).to_be_visible()

    def test_no_letter_is_lost_in_a_route_of_21_rules(self) -> None:
        tag = str(Tag.objects.of(self.workspace).get(name="moon").pk)
        actions = (
            *(AddTags(tags=(tag,)) for _ in range(10)),
            *(ChangeScore(by=number) for number in range(10)),
            MakeTask(title="Call them"),
        )
        rules = tuple(Rule(id=f"t{at}", action=one) for at, one in enumerate(actions))
        save_route_draft(
            self.world.source, self.stored().model_copy(update={"then": rules}), None, None
        )
        page = self.open_sheet()
        expect(page.get_by_role("region", name="Then").get_by_text("21 rules")).to_be_visible()
        page.get_by_role("button", name="Edit rule 21", exact=True).click()
        box = page.locator("[id=t20]").get_by_label("What is to be done")
        expect(box).to_have_value("Call them")
        box.press("End")
        # No pause between the keys: faster than anybody types, across several saves.
        page.keyboard.type(" " + WORDS)
        page.wait_for_timeout(700)
        page.keyboard.type(WORDS)
        expect(box).to_have_value(f"Call them {WORDS}{WORDS}"[:200])
        self.saved()
        [*_, last] = self.stored().then
        self.assertEqual(last.action, MakeTask(title=f"Call them {WORDS}{WORDS}"[:200]))

    def test_a_click_lands_where_it_was_aimed(self) -> None:
        """Whoever aims at a line as soon as it shows meets it: nothing that comes later moves it."""
        tag = str(Tag.objects.of(self.workspace).get(name="moon").pk)
        rule = Rule(id="t", action=AddTags(tags=(tag,)))
        self.page.add_init_script(_COUNT_SHIFTS)
        self.page.add_init_script(_ONE_AFTER_ANOTHER)
        for kind in Source.Kind:
            source = make_source(self.workspace, f"By {kind}", None, kind=kind)
            document = RouteDocument.model_validate(shown_revision(source).document)
            then = document.model_copy(update={"then": (rule,)})
            save_route_draft(source, then, None, None)
            with self.subTest(kind):
                self.page.goto(f"{self.at}/sources/{source.pk}", wait_until="commit")
                edit = self.page.get_by_role("button", name="Edit rule 1", exact=True)
                edit.scroll_into_view_if_needed()
                at = self.page.locator("[id=t]").bounding_box()
                self.press_slowly(edit)
                done = self.page.get_by_role("button", name="Done with rule")
                expect(done).to_be_visible()
                self.page.wait_for_timeout(1_500)  # the last answers, which are held back
                now = self.page.locator("[id=t]").bounding_box()
                assert at is not None and now is not None
                self.assertEqual((now["x"], now["y"]), (at["x"], at["y"]))
                self.assertLessEqual(self.page.evaluate("window.shifted"), _GOOD)

    def test_a_sample_that_fails_takes_no_sheet_away(self) -> None:
        self.page.route("**/sample", lambda route: route.fulfill(status=500, body="{}"))
        self.page.route("**/seen", lambda route: route.fulfill(status=500, body="{}"))
        heading = self.open_heading()
        heading.fill("")
        # Across several saves and samples that fail, and past the time at which the rest is asked for anew.
        for word in ("Clear ", "skies ", "tonight"):
            heading.press_sequentially(word)
            self.page.wait_for_timeout(4_000)
        expect(heading).to_have_value("Clear skies tonight")
        self.saved()
        self.assertEqual(self.heading(), "Clear skies tonight")

    def press_slowly(self, at: Locator) -> None:
        """Press the mouse where something stands now, as people do: not where it may go."""
        box = at.bounding_box()
        assert box is not None
        self.page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.page.wait_for_timeout(100)
        self.page.mouse.down()
        self.page.wait_for_timeout(80)
        self.page.mouse.up()

    def test_undo_and_redo_of_a_route(self) -> None:
        heading = self.open_heading()
        page, before = self.page, self.heading()
        heading.fill("The first")
        page.wait_for_timeout(1_000)  # what is done later is a step of its own
        heading.fill("The second")
        page.wait_for_timeout(1_000)
        page.get_by_role("button", name="Tag everybody").click()
        expect(page.get_by_role("button", name="Done with rule")).to_have_count(1)
        self.saved()
        count = len(self.stored().then)
        page.keyboard.press("Control+z")
        expect(page.get_by_role("button", name="Done with rule")).to_have_count(0)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(heading).to_have_value("The first")
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(heading).to_have_value(before)
        expect(page.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
        page.keyboard.press("Control+Shift+Z")
        page.keyboard.press("Control+y")
        expect(heading).to_have_value("The second")
        self.saved()
        self.assertEqual(self.heading(), "The second")
        page.get_by_role("button", name="Redo", exact=True).click()
        expect(page.get_by_role("button", name="Redo", exact=True)).to_be_disabled()
        self.saved()
        self.assertEqual(len(self.stored().then), count)
        # An edit after an undo begins anew: what was undone is gone.
        page.get_by_role("button", name="Undo", exact=True).click()
        heading.fill("The third")
        expect(page.get_by_role("button", name="Redo", exact=True)).to_be_disabled()
        self.saved()
        self.assertEqual(self.heading(), "The third")

    def test_undo_and_redo_of_a_sequence(self) -> None:
        page = self.page
        page.goto(f"{self.at}/sequences/{self.world.sequence.pk}")
        lanes = page.get_by_role("region", name="Lanes")
        expect(lanes.get_by_text("+1 day", exact=True)).to_be_visible()
        page.get_by_role("button", name="Add a step", exact=True).first.click()
        page.get_by_role("menuitem", name="Wait for some time", exact=True).click()
        page.get_by_label("Wait for").fill("5")
        self.saved()
        self.assertEqual(self.waits(), [1, 5])
        page.get_by_role("button", name="Undo", exact=True).click()
        self.saved()
        self.assertEqual(self.waits(), [1])
        page.get_by_role("button", name="Redo", exact=True).click()
        self.saved()
        self.assertEqual(self.waits(), [1, 5])

    def waits(self) -> list[int]:
        """How long each wait of the first lane of the draft is."""
        row = Sequence.objects.of(self.workspace).get(pk=self.world.sequence.pk)
        newest = row.revisions.order_by("-number")[0]
        lane = SequenceDocument.model_validate(newest.document).lanes[0]
        return [one.duration.amount for one in lane.steps if one.kind == "wait"]

    def test_whoever_leaves_on_a_slow_server_loses_nothing(self) -> None:
        heading, page = self.open_heading(), self.page
        held: list[Route] = []
        page.route("**/draft", lambda route: held.append(route))  # noqa: PLW0108
        heading.fill("On a slow server")
        page.get_by_role("link", name="People", exact=True).click()
        page.wait_for_timeout(1_500)
        # Nobody is asked anything, and nobody is taken away from what is not stored yet.
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(heading).to_have_value("On a slow server")
        self.assertEqual(len(held), 1)
        held[0].continue_()
        page.unroute("**/draft")
        page.wait_for_url("**/people")
        self.assertEqual(self.heading(), "On a slow server")

    def test_whoever_leaves_on_a_failing_server_is_asked(self) -> None:
        heading, page, before = self.open_heading(), self.page, self.heading()
        page.route("**/draft", lambda route: route.fulfill(status=503, body="busy"))
        heading.fill("On a failing server")
        expect(page.get_by_text("Not saved")).to_be_visible()
        page.get_by_role("link", name="People", exact=True).click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Leave without saving?")
        dialog.get_by_role("button", name="Stay here").click()
        expect(heading).to_have_value("On a failing server")
        # The browser itself asks whoever closes the tab.
        asked: list[str] = []

        def stay(dialog: Dialog) -> None:
            asked.append(dialog.type)
            dialog.dismiss()

        page.once("dialog", stay)
        page.close(run_before_unload=True)
        page.wait_for_timeout(500)
        self.assertEqual(asked, ["beforeunload"])
        # No connection at all is no other case.
        page.unroute("**/draft")
        page.route("**/draft", lambda route: route.abort())
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_text("Not saved")).to_be_visible()
        self.assertEqual(self.heading(), before)
        # Once the server is back it is saved, though nobody presses anything.
        page.unroute("**/draft")
        self.saved()
        self.assertEqual(self.heading(), "On a failing server")
        page.get_by_role("link", name="People", exact=True).click()
        page.wait_for_url("**/people")

    def test_one_signs_in_again_over_the_sheet(self) -> None:
        heading, page, before = self.open_heading(), self.page, self.heading()
        Session.objects.all().delete()
        heading.fill("Written after the session ended")
        dialog = page.get_by_role("dialog", name="You have been signed out")
        expect(dialog).to_be_visible()
        self.assertEqual(self.heading(), before)
        expect(dialog.get_by_label("Email")).to_have_value(self.world.user.email)
        dialog.get_by_label("Password").fill("not the password")
        dialog.get_by_role("button", name="Sign in").click()
        expect(dialog.get_by_text("is not right")).to_be_visible()
        dialog.get_by_label("Password").fill(PASSWORD)
        dialog.get_by_role("button", name="Sign in").click()
        expect(dialog).to_be_hidden()
        self.saved()
        expect(heading).to_have_value("Written after the session ended")
        self.assertEqual(self.heading(), "Written after the session ended")

    def test_a_save_without_an_answer_says_so(self) -> None:
        heading, page = self.open_heading(), self.page
        held: list[Route] = []
        page.route("**/draft", lambda route: held.append(route))  # noqa: PLW0108
        heading.fill("Waiting")
        expect(page.get_by_text("the server has not answered")).to_be_visible(timeout=15_000)
        held[0].continue_()
        page.unroute("**/draft")
        self.saved()

    def test_undo_and_redo_of_a_letter(self) -> None:
        page = self.page
        page.goto(f"{self.at}/messages/{self.world.guide.pk}")
        letter = page.get_by_role("textbox", name="Text of the message").first
        preview = page.frame_locator("iframe")
        before = self.letter()
        letter.get_by_text("your guide").click()
        page.keyboard.press("End")
        page.keyboard.type(" Dusk is at nine.")
        self.saved()
        page.wait_for_timeout(1_000)  # what is done later is a step of its own
        page.keyboard.type(" Bring a coat.")
        expect(preview.get_by_text("Bring a coat.")).to_be_visible()
        self.saved()
        page.keyboard.press("Control+z")
        expect(letter).not_to_contain_text("Bring a coat.")
        expect(letter).to_contain_text("Dusk is at nine.")
        expect(preview.get_by_text("Bring a coat.")).to_have_count(0)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(letter).not_to_contain_text("Dusk is at nine.")
        self.saved()
        self.assertEqual(self.letter(), before)
        # The next key does not bring it back.
        letter.get_by_text("your guide").click()
        page.keyboard.press("End")
        page.keyboard.type("!")
        self.saved()
        self.assertNotIn("Dusk", self.letter())
        page.get_by_role("button", name="Undo", exact=True).click()
        page.reload()
        expect(letter).not_to_contain_text("Dusk is at nine.")
        self.assertEqual(self.letter(), before)

    def test_the_preview_changes_in_its_place(self) -> None:
        """Neither loaded anew nor scrolled back to its top, and no style of the letter is refused."""
        page = self.page
        page.set_viewport_size({"width": 1280, "height": 420})
        page.goto(f"{self.at}/messages/{self.world.guide.pk}")
        preview = page.frame_locator("iframe")
        expect(preview.get_by_text("your guide")).to_be_visible()
        frame = page.locator("iframe").element_handle().content_frame()
        assert frame is not None
        page.wait_for_timeout(500)
        before = page.locator("iframe").evaluate(
            "one => (one.contentWindow.scrollTo(0, 40), one.contentWindow.scrollY)"
        )
        self.assertGreater(before, 20)
        loads: list[str] = []
        page.on("request", lambda one: loads.append(one.url) if "preview.html" in one.url else None)
        letter = page.get_by_role("textbox", name="Text of the message").first
        letter.get_by_text("your guide").click()
        page.keyboard.press("End")
        page.keyboard.type(" Dusk is at nine.")
        expect(preview.get_by_text("Dusk is at nine.")).to_be_visible()
        at = page.locator("iframe").evaluate("one => one.contentWindow.scrollY")
        self.assertEqual((at, loads), (before, []))
        styled = page.locator("iframe").evaluate(
            "one => getComputedStyle(one.contentDocument.querySelector('[style*=background]')).backgroundColor"
        )
        self.assertNotIn(styled, ("", "rgba(0, 0, 0, 0)"))
        # Where a link in it was followed, the next change brings the letter back.
        page.locator("iframe").evaluate("one => { one.contentWindow.location = 'about:blank' }")
        expect(preview.get_by_text("Dusk is at nine.")).to_have_count(0)
        letter.press("End")
        page.keyboard.type(" Bring a coat.")
        expect(preview.get_by_text("Bring a coat.")).to_be_visible()
        # No script runs in it, though the screen around it may look in.
        self.assertTrue(
            page.locator("iframe").evaluate(
                """one => {
                    const made = one.contentDocument.createElement("script");
                    made.textContent = "window.ran = true";
                    one.contentDocument.body.append(made);
                    return one.contentWindow.ran === undefined;
                }"""
            )
        )

    def letter(self) -> str:
        """The first text of the guide's draft."""
        document = shown_document(Message.everywhere.get(pk=self.world.guide.pk))
        return next(one.html for one in document.blocks if isinstance(one, TextBlock))

    def test_what_is_pasted_from_other_programs(self) -> None:
        page = self.page
        page.goto(f"{self.at}/messages/{self.world.guide.pk}")
        letter = page.get_by_role("textbox", name="Text of the message").first
        letter.click()
        page.keyboard.press("Control+a")
        wrapped = (
            '<b style="font-weight:normal"><p dir="rtl">\u05e9\u05dc\u05d5\u05dd</p>'
            '<p>Plain and <span style="font-weight:700">strong</span>, {{ first_name }}</p></b>'
        )
        # As the browser tells of a clipboard that another program has filled.
        letter.evaluate(
            """(letter, html) => {
                const clipboardData = new DataTransfer();
                clipboardData.setData("text/html", html);
                const how = { clipboardData, bubbles: true, cancelable: true };
                letter.dispatchEvent(new ClipboardEvent("paste", how));
            }""",
            wrapped,
        )
        expect(letter.locator(".field-chip")).to_have_text("First name")
        self.saved()
        self.assertEqual(
            self.letter(),
            '<p dir="rtl">\u05e9\u05dc\u05d5\u05dd</p>'
            "<p>Plain and <strong>strong</strong>, {{ first_name }}</p>",
        )

    def test_where_a_script_never_comes_it_is_said(self) -> None:
        page = self.page
        rail = page.get_by_role("navigation", name="Rooms").get_by_role("link")
        expect(rail.first).to_be_visible()
        rooms = rail.all_inner_texts()
        self.assertGreater(len(rooms), 10)
        for room in rooms:
            # From another room, in the program or by its address.
            page.goto(f"{self.at}/history")
            expect(page.get_by_role("heading", name="History")).to_be_visible()
            page.route(f"**/static/assets/{room}-*.js", lambda route: route.abort())
            page.get_by_role("link", name=room, exact=True).click()
            expect(page.get_by_text("This room could not be loaded")).to_be_visible()
            page.unroute(f"**/static/assets/{room}-*.js")
            page.get_by_role("button", name="Load it again").click()
            expect(page.get_by_role("heading", level=1)).to_contain_text(room)

    def test_whoever_leaves_without_saving_leaves_what_was_stored(self) -> None:
        heading, page, before = self.open_heading(), self.page, self.heading()
        page.route("**/draft", lambda route: route.abort())
        heading.fill("Never stored")
        page.get_by_role("link", name="People", exact=True).click()
        page.get_by_role("button", name="Leave without saving").click()
        page.wait_for_url("**/people")
        page.unroute("**/draft")
        expect(self.open_heading()).to_have_value(before)
        self.assertEqual(self.heading(), before)


class KeyboardAlone(MemberCase):
    """No pointer: Tab, Enter, Escape, Space and the arrows."""

    tabs = 0
    """How often Tab was pressed so far."""

    def reach(self, role: str, name: str, *, exact: bool = True) -> None:
        """Press Tab until something has the focus."""
        self.reach_one(self.page.get_by_role(role, name=name, exact=exact))  # type: ignore[arg-type]

    def reach_one(self, wanted: Locator) -> None:
        """Press Tab until it has the focus, or one of them: once it can be pressed."""
        expect(wanted.first).to_be_enabled()
        focused = wanted.and_(self.page.locator(":focus"))
        for _ in range(MOST_TABS):
            if focused.count():
                return
            self.page.keyboard.press("Tab")
            self.tabs += 1
        self.fail(f"Tab does not lead to {wanted}")

    def press(self, name: str, role: str = "button", *, exact: bool = True) -> None:
        self.reach(role, name, exact=exact)
        self.page.keyboard.press("Enter")

    def choose(self, label: str, name: str) -> None:
        """Choose from a list that one can type into."""
        self.reach("combobox", label)
        self.page.keyboard.type(name)
        expect(self.page.get_by_role("option", name=name).first).to_be_visible()
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")

    def add(self, button: str, kind: str, which: Locator | None = None) -> None:
        """Choose from a menu that opens."""
        self.reach_one(which or self.page.get_by_role("button", name=button, exact=True))
        self.page.keyboard.press("Enter")
        item = self.page.get_by_role("menuitem", name=kind, exact=True)
        expect(item).to_be_visible()
        for _ in range(30):
            if item.and_(self.page.locator(":focus")).count():
                break
            self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")
        expect(item).to_have_count(0)

    def turn_on(self) -> None:
        expect(self.page.get_by_text("Draft saved")).to_be_visible()
        self.press("Turn on")
        expect(self.page.get_by_role("dialog")).to_be_visible()
        self.press("Turn on")
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        expect(self.page.get_by_text("live", exact=True).first).to_be_visible()

    def test_a_route(self) -> None:
        self.press("Sources", "link")
        self.press("New source")
        self.reach("textbox", "What is it for?")
        self.page.keyboard.type("Moon calendar")
        self.press("Make the form")
        self.press("Add a list")
        self.choose("Subscribe to the list", "Open-night news")
        self.reach("textbox", "What the visitor reads above the button, and agrees to")
        self.page.keyboard.type("You also get Open-night news.")
        for tag in ("moon", "planets"):
            self.press("Tag everybody")
            self.choose("Tags", tag)
        self.press("Done with rule 2")
        # The order, by the handle: picked up, moved, put down.
        self.reach("button", "Drag rule 2")
        for key in ("Space", "ArrowUp", "Space"):
            self.page.keyboard.press(key)
            self.page.wait_for_timeout(300)
        self.turn_on()
        row = Source.objects.of(self.world.workspace).get(name="Moon calendar")
        route = route_of_revision(str(row.revisions.get(state="live").pk))
        [consent] = route.consent
        self.assertEqual(consent.list, str(self.world.news.pk))
        self.assertEqual(consent.wording, "You also get Open-night news.")
        names = dict(Tag.objects.of(self.world.workspace).values_list("pk", "name"))
        by_id = {str(pk): name for pk, name in names.items()}
        acts = [one.action for one in route.then]
        self.assertEqual(
            [[by_id[tag] for tag in one.tags] for one in acts if isinstance(one, AddTags)],
            [["planets"], ["moon"]],
        )

    def test_a_sequence_of_three_lanes(self) -> None:
        self.press("Sequences", "link")
        self.press("New sequence")
        self.reach("textbox", "What is it for?")
        self.page.keyboard.type("Welcome")
        self.press("Create sequence")
        self.press("Emails of no list yet", exact=False)
        self.choose("Its emails belong to the list", "Open-night news")
        self.page.keyboard.press("Escape")
        taken = [self.send("Your guide", "at the top of A"), self.wait_days("3")]
        taken.append(self.send("Which one fits"))
        for lane in "BC":
            self.press("Add a lane")
            # The lane opens, with its name at hand.
            self.assertTrue(self.focused("textbox", "Name of the lane"))
            self.page.keyboard.press("Escape")
            self.assertTrue(self.focused("button", lane))
            taken += [self.send("Your guide", f"at the top of {lane}"), self.wait_days("2")]
        self.page.keyboard.press("Escape")
        self.assertLessEqual(max(taken), _TABS_A_STEP, taken)
        # A step that is removed leaves the focus to the one beside it.
        self.reach_one(self.page.get_by_role("button", name=re.compile("^wait 2 days")))
        self.page.keyboard.press("Enter")
        self.press("Remove")
        expect(self.page.get_by_role("complementary")).to_have_count(0)
        beside = self.page.get_by_role("button", name=re.compile("^Send"))
        expect(beside.and_(self.page.locator(":focus"))).to_have_count(1)
        self.press("Undo")
        self.turn_on()
        row = Sequence.objects.of(self.world.workspace).get(name="Welcome")
        document = SequenceDocument.model_validate(row.revisions.get(state="live").document)
        first, wait, second = document.lanes[0].steps
        assert first.kind == "send" and wait.kind == "wait" and second.kind == "send"
        self.assertEqual(first.message, str(self.world.guide.pk))
        self.assertEqual((wait.duration.amount, wait.duration.unit), (3, "days"))
        self.assertEqual(second.message, str(self.world.fits.pk))
        self.assertEqual(document.list, str(self.world.news.pk))
        kinds = [[step.kind for step in lane.steps] for lane in document.lanes]
        self.assertEqual(kinds, [["send", "wait", "send"], ["send", "wait"], ["send", "wait"]])

    def focused(self, role: str, name: str, *, exact: bool = True) -> bool:
        """Whether the focus comes to it by itself."""
        wanted = self.page.get_by_role(role, name=name, exact=exact)  # type: ignore[arg-type]
        expect(wanted.and_(self.page.locator(":focus"))).to_have_count(1)
        return True

    def send(self, message: str, where: str = "after") -> int:
        """Add a step that sends; how many Tabs it took."""
        before = self.tabs
        self.add_step("Send an email", where)
        self.assertTrue(self.focused("combobox", "Message"))
        self.choose("Message", message)
        return self.tabs - before

    def wait_days(self, days: str) -> int:
        """Add a step that waits; how many Tabs it took."""
        before = self.tabs
        self.add_step("Wait for some time", "after")
        self.assertTrue(self.focused("textbox", "Wait for"))
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(days)
        return self.tabs - before

    def add_step(self, kind: str, where: str) -> None:
        """By the + of a lane, or that after a step; an open panel is left to its step first."""
        if self.page.get_by_role("complementary").count():
            self.page.keyboard.press("Escape")
            expect(self.page.get_by_role("complementary")).to_have_count(0)
        self.add("", kind, self.page.get_by_role("button", name=f"Add a step {where}"))
