"""Every way in, as specialists set it up and visitors use it, in Chromium."""

import csv
import re
from urllib.parse import urlencode

from playwright.sync_api import Page, expect

from core.deciding import RouteDocument
from core.reading import PopUp
from server.people.models import Subscriber
from server.routes.actions import turn_on
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source
from server.sources.open_forms import forget
from server.submissions.models import Submission
from tests.browser.case import TURN_ON, MemberCase, wait_until
from tests.browser.test_whole_path import add_question, pick
from tests.world import World

A_MOMENT = 1_700
"""Milliseconds after which a post does not look like a program's."""
ODD = "עדי 🔭 Zoë = & + % \u202eabc"


class WaysIn(MemberCase):
    world: World

    def make(self, name: str, kind: str) -> Page:
        """Make a source on the screen; its sheet is open."""
        page = self.page
        page.goto(f"{self.at}/sources")
        page.get_by_role("button", name="New source").click()
        page.get_by_label("What is it for?").fill(name)
        page.get_by_role("radio", name=re.compile(f"^{kind}")).check()
        page.get_by_role("button", name=f"Make the {kind.lower()}").click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()
        return page

    def turn_on(self) -> None:
        page = self.page
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name=TURN_ON).click()
        expect(page.get_by_role("dialog")).to_be_hidden()

    def change_form(self, **change: object) -> None:
        live = self.world.source.revisions.get(state="live")
        route = RouteDocument.model_validate(live.document)
        draft = route.model_copy(update={"form": route.form.model_copy(update=change)})
        save_route_draft(self.world.source, draft, None, None)
        turn_on(self.world.source, None)
        forget(self.world.source)

    def on_the_website(self, page_name: str, key: str) -> Page:
        """A page of the observatory's website, of another origin, that shows our form."""
        Source.everywhere.filter(pk=self.world.source.pk).update(key=key)
        self.world.source.refresh_from_db()
        page = self.open()
        page.goto(f"{self.outside}/larkmoor/{page_name}/?utm_source=fair")
        # Styles of the page, loud on purpose.
        page.add_style_tag(content="* { letter-spacing: 9px } form { display: none }")
        return page

    def came(self, source: Source | None = None) -> list[Submission]:
        return list(
            Submission.everywhere.filter(source=source or self.world.source).order_by("received_at")
        )

    # The builder

    def test_the_builder_with_the_form_beside_it(self) -> None:
        page = self.make("Plan a visit", "Form")
        page.get_by_role("button", name="On a phone").click()
        shown = page.frame_locator("iframe[title='The form on a phone']")
        expect(shown.get_by_label("Email")).to_be_visible()
        add_question(page, "phone", "Phone")
        add_question(page, "multiple choice", "What do you look at?", choices=["Moon", "Aurora"])
        page.get_by_role("button", name="Add question").click()
        page.get_by_role("menuitem", name="consent", exact=True).click()
        # The focus is where one types next.
        expect(page.get_by_label("What they agree to")).to_be_focused()
        page.get_by_label("What they agree to").fill("Send me the news")
        page.get_by_role("button", name="Done", exact=True).click()
        expect(page.get_by_role("button", name="Edit Send me the news")).to_be_focused()
        expect(page.get_by_text("4 questions: each one beyond two costs sign-ups")).to_be_visible()
        expect(shown.get_by_role("group", name="What do you look at?")).to_be_visible()
        # Dragged by keys: the last question goes up by one.
        handle = page.get_by_role("button", name="Drag Send me the news")
        handle.focus()
        page.keyboard.press("Space")
        page.wait_for_timeout(300)
        page.keyboard.press("ArrowUp")
        page.wait_for_timeout(300)
        page.keyboard.press("Space")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        source = Source.objects.of(self.world.workspace).get(name="Plan a visit")
        wait_until(lambda: self.names(source)[-2:] == ["send_me_the_news", "what_do_you_look_at"])
        # Colours that nobody can read are found, and fixed.
        page.get_by_role("button", name="Edit look").click()
        page.get_by_label("Text", exact=True).first.fill("#dddddd")
        expect(page.get_by_text("is hard to see on the paper").first).to_be_visible()
        page.get_by_label("Text", exact=True).first.fill("#111111")
        expect(page.get_by_text("is hard to see on the paper")).to_have_count(0)

    def names(self, source: Source) -> list[str]:
        draft = source.revisions.get(state="draft")
        return [one["name"] for one in draft.document["form"]["questions"]]

    def test_a_try_of_the_draft_reaches_the_members_inbox_and_counts_nowhere(self) -> None:
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Send it to me as a test").click()
        expect(page.get_by_text("a test, counted nowhere")).to_be_visible()
        expect(page.get_by_text("First email handed over")).to_be_visible()
        wait_until(lambda: len(self.mailbox.list(self.world.user.email)) == 1)
        page.goto(f"{self.at}/people")
        expect(page.get_by_text("Nobody yet.")).to_be_visible()

    # Shown elsewhere

    def test_embedded_in_a_page_of_another_origin(self) -> None:
        page = self.on_the_website("night-sky-calendar", "night-sky-calendar")
        email = page.locator("[data-yalla]").get_by_label("Email")
        expect(email).to_be_visible()
        # Neither side's styles reach the other.
        spacing = email.evaluate("box => getComputedStyle(box).letterSpacing")
        self.assertEqual(spacing, "normal")
        page.wait_for_timeout(A_MOMENT)
        email.fill("nonsense")
        page.locator("[data-yalla]").get_by_role("button", name="Send").click()
        expect(page.get_by_role("alert")).to_contain_text("enter a full email address")
        expect(email).to_be_focused()
        email.fill("ines@example.com")
        page.get_by_label("First name").fill(ODD)
        page.locator("[data-yalla]").get_by_role("button", name="Send").click()
        expect(page.get_by_text("It is on its way.")).to_be_visible()
        [one] = self.came()
        self.assertIn(["first_name", ODD], one.answers)
        self.assertEqual(one.context["title"], "Night-sky calendar")
        self.assertEqual(one.context["parameters"], {"utm_source": "fair"})
        wait_until(lambda: Subscriber.objects.of(self.world.workspace).count() == 1)

    def test_a_pop_up_with_a_way_out(self) -> None:
        self.change_form(pop_up=PopUp(opens="seconds", after=0, not_again=30))
        page = self.on_the_website("shop", "shop-offers")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_be_visible()
        # The focus stays inside, however often Tab is pressed.
        for _ in range(12):
            page.keyboard.press("Tab")
            inside = page.evaluate(
                "document.activeElement === document.body || "
                "document.activeElement.dataset.yalla !== undefined"
            )
            self.assertTrue(inside)
        page.keyboard.press("Escape")
        expect(dialog).to_be_hidden()
        page.reload()
        page.wait_for_timeout(1_000)
        expect(page.get_by_role("dialog")).to_be_hidden()
        page.evaluate("localStorage.clear()")
        page.set_viewport_size({"width": 390, "height": 700})
        page.reload()
        close = page.get_by_role("button", name="Close")
        expect(close).to_be_in_viewport()
        close.click()
        expect(page.get_by_role("dialog")).to_be_hidden()

    def test_a_pop_up_by_a_button_and_by_scrolling(self) -> None:
        self.change_form(pop_up=PopUp(opens="button", button="Get the guide"))
        page = self.on_the_website("shop", "shop-offers")
        for _ in range(2):
            page.get_by_role("button", name="Get the guide").click()
            expect(page.get_by_role("dialog").get_by_label("Email")).to_be_visible()
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_be_hidden()
        self.change_form(pop_up=PopUp(opens="scroll", after=50))
        page = self.on_the_website("shop", "shop-offers")
        page.add_style_tag(content="body { min-height: 4000px }")
        page.wait_for_timeout(600)
        expect(page.get_by_role("dialog")).to_be_hidden()
        page.evaluate("window.scrollTo(0, 3000)")
        expect(page.get_by_role("dialog")).to_be_visible()

    def test_a_screen_that_visitors_share(self) -> None:
        self.change_form(shared_screen=True)
        page = self.open(820, 1100)
        at = f"{self.live_server_url}/f/{self.world.source.key}/kiosk"
        page.goto(at)
        for number in range(3):
            expect(page.get_by_label("Email")).to_have_value("")
            page.wait_for_timeout(A_MOMENT)
            page.get_by_label("Email").fill(f"p{number}@example.com")
            page.get_by_role("button", name="Send").click()
            expect(page.get_by_text("It is on its way.")).to_be_visible()
            # The next visitor does not find the one before by going back.
            page.go_back()
            expect(page.get_by_label("Email")).to_have_value("")
            page.goto(at)
        self.assertEqual(page.context.cookies(), [])
        wait_until(lambda: Subscriber.objects.of(self.world.workspace).count() == 3)

    # Own forms: what Chromium really sends (WHATWG HTML, form submission)

    def test_chromiums_own_posts_arrive_to_the_letter(self) -> None:
        page = self.make("Partner", "Own HTML form")
        source = Source.objects.of(self.world.workspace).get(name="Partner")
        self.map_email("E-mail")
        for kind in ("application/x-www-form-urlencoded", "multipart/form-data"):
            visitor = self.open()
            visitor.set_content(
                f'<form method="post" enctype="{kind}" '
                f'action="{self.live_server_url}/f/{source.key}">'
                f'<input name="E-mail" value="ines+{len(kind)}@example.com">'
                '<textarea name="note"></textarea><input name="na=me&" value="x">'
                '<input type="checkbox" name="box" checked><input type="file" name="cv">'
                "<button>Send</button></form>"
            )
            visitor.locator("textarea").fill(f"{ODD}\nsecond line")
            visitor.get_by_role("button", name="Send").click()
            visitor.wait_for_url("**/thanks")
        sent = self.came(source)
        for one in sent:
            answers = dict(map(tuple, one.answers))
            # Line breaks are sent as CR LF, whatever the page has (WHATWG HTML 4.10.21.5).
            self.assertEqual(answers["note"], f"{ODD}\r\nsecond line")
            self.assertEqual((answers["na=me&"], answers["box"]), ("x", "on"))
        urlencoded = bytes(sent[0].raw or b"").decode()
        self.assertIn(urlencode({"note": f"{ODD}\r\nsecond line"}), urlencoded)
        page.goto(f"{self.at}/sources/{source.pk}")
        arrives = page.get_by_role("region", name="Arrives")
        expect(arrives.get_by_role("row", name=re.compile("E-mail"))).to_contain_text("100%")

    def map_email(self, name: str) -> None:
        """Before anything came: the name is typed."""
        page = self.page
        page.get_by_role("button", name="Add a line").click()
        page.get_by_role("combobox", name="Question").fill(name)
        page.get_by_role("option", name=f"Read the name “{name}”").click()
        pick(page, "Field", "Email")
        self.turn_on()

    def test_a_draft_shows_what_a_try_sent_and_maps_it(self) -> None:
        page = self.make("Club", "Own HTML form")
        source = Source.objects.of(self.world.workspace).get(name="Club")
        visitor = self.open()
        visitor.set_content(
            f'<form method="post" action="{self.live_server_url}/f/{source.key}">'
            '<input name="mail" value="ines@example.com"><button>Send</button></form>'
        )
        visitor.get_by_role("button").click()
        expect(visitor.get_by_role("heading", name="Thank you")).to_be_visible()
        self.assertEqual([(one.state, one.is_test) for one in self.came(source)], [("held", True)])
        page.get_by_role("button", name="Map “mail”").click(timeout=20_000)
        pick(page, "Field", "Email")
        self.turn_on()
        self.assertFalse(Subscriber.objects.of(self.world.workspace).exists())

    def test_a_near_miss_is_pointed_out_with_its_fix(self) -> None:
        source = make_source(
            self.world.workspace, "Partner", self.world.member, kind=Source.Kind.POSTED
        )
        email = self.world.workspace.field_set.get(key="email")
        line = {"id": "r1", "question": "email", "field": str(email.pk)}
        save_route_draft(source, RouteDocument.model_validate({"read_as": [line]}), 1, None)
        turn_on(source, None)
        visitor = self.open()
        visitor.set_content(
            f'<form method="post" action="{self.live_server_url}/f/{source.key}">'
            '<input name="Email" value="ines@example.com"><button>Send</button></form>'
        )
        visitor.get_by_role("button").click()
        # There is no address by the map; what the visitor sent waits for the map, and says so.
        expect(visitor.get_by_text("We have received what you sent.")).to_be_visible()
        self.page.goto(f"{self.at}/submissions?source={source.pk}")
        self.page.get_by_role("row").nth(1).get_by_role("link").first.click()
        expect(self.page.get_by_text("“Email” holds one")).to_be_visible()

    def test_a_sequence_is_made_where_a_rule_starts_it(self) -> None:
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Start a sequence").click()
        box = page.get_by_role("combobox", name="Sequence").last
        box.fill("Second telescope")
        page.get_by_role("option", name="Create the sequence “Second telescope”").click()
        expect(box).to_have_value("Second telescope")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        # The new one; the rule that was there is a sentence.
        page.get_by_role("link", name="Open it").click()
        expect(page.get_by_role("heading", name="Second telescope")).to_be_visible()
        page.get_by_role("link", name="← Back").click()
        expect(page.get_by_role("heading", name="Telescope guide")).to_be_visible()
        then = page.get_by_role("region", name="Then")
        expect(then).to_contain_text("Always: start Second telescope")
        then.get_by_role("button", name=re.compile("^Edit rule")).last.click()
        expect(page.get_by_role("combobox", name="Sequence")).to_have_value("Second telescope")

    # Files

    def test_a_file_with_a_mistake_and_its_fix(self) -> None:
        page = self.make("Members", "File")
        folder = self.house.folder
        file = folder / "members.csv"
        with file.open("w", encoding="windows-1252", newline="") as out:
            rows = csv.writer(out, delimiter=";")
            rows.writerow(["E-mail", "Full name", "Sky"])
            rows.writerow(["ines@example.com", "INES VAN DER BERG", "dark"])
            rows.writerow(["bo at example.com", "Bo Österberg", "lit"])
        page.locator("input[type=file][accept*=csv]").set_input_files(file)
        expect(page.get_by_text("3 columns")).to_be_visible()
        expect(page.get_by_role("cell", name="Bo Österberg")).to_be_visible()
        page.get_by_role("button", name="Propose lines for all").click()
        page.get_by_role("button", name="Take 4 lines, make 1 field").click()
        expect(page.get_by_role("columnheader", name="Last name")).to_be_visible()
        expect(page.get_by_role("cell", name="van der Berg")).to_be_visible()
        expect(page.get_by_text("This is not an email address.").first).to_be_visible()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name="Check the import").click()
        expect(page.get_by_text("1 new · 1 refused")).to_be_visible()
        self.assertEqual(Subscriber.objects.of(self.world.workspace).count(), 0)
        page.get_by_role("button", name="Import 1 row, skip 1 refused").click()
        expect(page.get_by_text("Imported.")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="Refused rows").click()
        refused = download.value.path().read_text()
        self.assertIn("bo at example.com", refused)
        fixed = folder / "fixed.csv"
        fixed.write_text(refused.replace("bo at", "bo@").replace("@ example", "@example"))
        page.locator("input[type=file][accept*=csv]").set_input_files(fixed)
        expect(page.get_by_text("fixed.csv")).to_be_visible()
        page.get_by_role("button", name="Check the import").click()
        # Bulk work waits for live work, at most twenty seconds before each batch.
        expect(page.get_by_text("1 new · 0 refused")).to_be_visible(timeout=40_000)
        page.get_by_role("button", name="Import 1 row").click()
        wait_until(lambda: Subscriber.objects.of(self.world.workspace).count() == 2)
        person = Subscriber.objects.of(self.world.workspace).get(address_key="ines@example.com")
        self.assertEqual(person.values["last_name"], "van der Berg")

    # Reading

    def test_mapping_with_a_missing_field_and_a_near_miss(self) -> None:
        for number in range(3):
            self.world.arrive(f"p{number}@example.com", first_name="Ines", look="moon")
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Map “What do you look at?”").click()
        line = page.get_by_role("group", name="Line: What do you look at?")
        expect(line).to_contain_text("100% · Moon")
        pick(page, "Field", "Interest", make="single-choice field")
        expect(page.get_by_role("region", name="Read as")).to_contain_text("Moon new")
        # The question is renamed by hand to what the map does not say: the map follows.
        page.get_by_role("button", name="Edit What do you look at?").click()
        page.get_by_label("Field name in the form").fill("gaze")
        page.get_by_role("button", name="Done", exact=True).click()
        expect(page.get_by_text("is called “gaze” from now on").first).to_be_visible()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name="Options of What do you look at?").click()
        page.get_by_label("If there is no answer").fill("Moon")
        expect(line).to_contain_text("without an answer “Moon”")
        page.get_by_role("button", name="Done with the line for What do you look at?").click()
        expect(line).to_contain_text("What do you look at? becomes Interest, without an answer")
        self.turn_on()
        expect(page.get_by_text("revision 2")).to_be_visible()

    # The log

    def test_what_is_held_is_seen_and_let_through(self) -> None:
        visitor = self.open()
        visitor.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        visitor.get_by_label("Email").fill("fast@example.com")
        visitor.get_by_role("button", name="Send").click()
        expect(visitor.get_by_text("We have received what you sent.")).to_be_visible()
        expect(visitor.get_by_text("It is on its way.")).to_have_count(0)
        wait_until(lambda: [one.state for one in self.came()] == ["held"])
        page = self.page
        page.goto(f"{self.at}/submissions?state=held")
        expect(page.get_by_text("after the form was shown")).to_be_visible()
        page.get_by_label("Mark fast@example.com").check()
        page.get_by_role("button", name="Let 1 through").click()
        wait_until(lambda: Subscriber.objects.of(self.world.workspace).count() == 1)
        with page.expect_download() as download:
            page.goto(f"{self.at}/submissions")
            page.get_by_role("link", name="CSV").click()
        self.assertIn("fast@example.com", download.value.path().read_text())
