"""Each main view against axe-core's rules for WCAG 2.2 AA, and by keyboard alone."""

import re
from contextlib import suppress
from pathlib import Path
from typing import Any, get_args
from urllib.parse import urlsplit

from playwright.sync_api import Page, expect
from playwright.sync_api import TimeoutError as PlaywrightTimeout

from core.audiences import AudienceDocument
from core.broadcasts import BroadcastDocument, To, Trial, Version
from core.conditions import Group, MembershipTest, TagTest
from core.deciding import HandOver, RouteDocument, Rule
from core.reading import Form, FormStyle, Question, QuestionType
from core.services import Chosen, FarLine, Handover
from outside.services.lists import KEY
from server.audiences.actions import make_audience
from server.broadcasts.actions import make_broadcast, set_off
from server.broadcasts.models import Broadcast
from server.people.links import own_address, request_address
from server.people.models import Field, OwnRequest, Tag
from server.sequences.ahead import look_ahead
from server.services.connecting import connect, set_secrets
from server.services.described import shipped
from server.sources.actions import make_source, save_route_draft
from server.sources.models import Source
from server.sources.tokens import try_token
from server.workspaces import clock
from tests.browser.case import BrowserCase
from tests.world import LOOKS, World, make_world

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
OPENS = re.compile(
    r"(More|Filter|Rehearse|Compare two|Second entry|Names and pages|Connect .*)$|New\b|"
    r"(Edit|Add|Details|Emails of|Actions of|Rename|Change|Pre-flight|wait|after|Turn on)\b|(?!Drag).*“Your guide”"
)
"""The names of buttons that open something."""
COLOURS = ["color-contrast", "link-in-text-block"]
"""The rules of axe that the colours of a page alone can break."""


def found_by_axe(page: Page, rules: dict[str, Any]) -> list[str]:
    """What axe finds, each with its first element."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    found: Any = page.evaluate(
        "rules => axe.run({runOnly: rules}).then(found => found.violations)", rules
    )
    return [f"{one['id']}: {one['nodes'][0]['html'][:160]}" for one in found]


def small_targets(page: Page) -> list[Any]:
    """What can be pressed and is less than 24 pixels high or wide, but links within a sentence. A box for a text
    is pressed anywhere in its frame, a box to tick on its words too."""
    found: list[Any] = page.evaluate(
        """() => [...document.querySelectorAll(
            "button, a[href], input, textarea, select, [role=button], [role=tab], [role=menuitem]"
        )].filter(one => one.tagName !== "A" || getComputedStyle(one).display !== "inline").map(one => {
            const field = one.closest("label, .MuiInputBase-root, .MuiPickersInputBase-root, .MuiCheckbox-root");
            const { width, height } = (field ?? one).getBoundingClientRect();
            const name = one.ariaLabel ?? one.textContent ?? one.type;
            return [one.tagName, name.slice(0, 40), Math.round(width), Math.round(height)];
        }).filter(([, , width, height]) => width > 1 && height > 1 && (width < 24 || height < 24))"""
    )
    return found


def background(page: Page) -> str:
    """The colour of the paper."""
    return str(page.evaluate("getComputedStyle(document.body).backgroundColor"))


def a_broadcast(world: World, name: str = "March letter") -> Broadcast:
    """A broadcast to everybody on the list, in preparation."""
    document = BroadcastDocument(
        to=To(list=str(world.news.pk)),
        versions=(
            Version(id="a", message=str(world.guide.pk)),
            Version(id="b", message=str(world.guide.pk), subject="Clear nights"),
        ),
        trial=Trial(by="member"),
    )
    return make_broadcast(world.workspace, name, document, world.member)


class Accessibility(BrowserCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com", first_name="Ines", look="moon")

    def violations(self, page: Page) -> list[str]:
        """What is wrong with the page, once it rests."""
        page.locator("main[aria-busy=true]").wait_for(state="detached")
        # The stream of changes stays open: on a slow machine nothing else may tell that it rests.
        with suppress(PlaywrightTimeout):
            page.wait_for_load_state("networkidle", timeout=5_000)
        page.wait_for_timeout(400)
        return found_by_axe(page, {"type": "tag", "values": RULES})

    def look_at(self, page: Page, view: str) -> None:
        """The page, in both themes, on a desktop and on a phone; it does not scroll sideways."""
        for width, height in ((1280, 800), (390, 800)):
            page.set_viewport_size({"width": width, "height": height})
            page.emulate_media(color_scheme="light")
            with self.subTest(view, width=width, scheme="light"):
                self.assertEqual(self.violations(page), [])
                self.assertEqual(small_targets(page), [])
            before = background(page)
            page.emulate_media(color_scheme="dark")
            page.wait_for_timeout(150)
            with self.subTest(view, width=width, scheme="dark"):
                # The same elements in other colours.
                self.assertNotEqual(background(page), before)
                self.assertEqual(found_by_axe(page, {"type": "rule", "values": COLOURS}), [])
            with self.subTest(view, width=width):
                found = page.evaluate("document.documentElement.scrollWidth")
                self.assertLessEqual(found, width, "it scrolls sideways")
        page.set_viewport_size({"width": 1280, "height": 800})

    def test_dialogs(self) -> None:
        page = self.open()
        self.sign_in(page, "noor@larkmoor.example")
        at = f"{self.live_server_url}/w/{self.world.workspace.slug}"
        dialog = page.get_by_role("dialog")
        page.goto(f"{at}/desk")
        expect(page.get_by_role("heading", name="Desk")).to_be_visible()
        page.keyboard.press("?")
        expect(dialog.get_by_role("heading", name="Keys")).to_be_visible()
        self.look_at(page, "keys")
        page.goto(f"{at}/sequences/{self.world.sequence.pk}")
        page.get_by_role("button", name="Add emails from a text").click()
        self.look_at(page, "a series")
        dialog.get_by_label("Paste the text").fill("# One\n\nHello.\n\n# Two\n\nAgain.\n")
        dialog.get_by_role("button", name="Read the text").click()
        expect(dialog.get_by_role("checkbox")).to_have_count(2)
        self.look_at(page, "a series that was read")

    def test_whatever_can_be_opened_on_the_sheets(self) -> None:
        world = self.world
        self.open_everything(
            f"sequences/{world.sequence.pk}",
            f"sources/{world.source.pk}",
            f"messages/{world.guide.pk}",
            f"people/{self.person.pk}",
            least=35,
        )

    def test_whatever_can_be_opened_in_the_rooms(self) -> None:
        moon = str(Tag.objects.of(self.world.workspace).get(name="moon").pk)
        who = AudienceDocument(who=Group(of=(TagTest(tag=moon),)))
        audience = make_audience(self.world.workspace, "Moon", who, None)
        letter = a_broadcast(self.world)
        self.open_everything(
            "people",
            "lists",
            "fields",
            "sources",
            "sequences",
            "messages",
            "messages/style",
            "messages/delivery",
            "audiences",
            f"audiences/{audience.pk}",
            "broadcasts",
            f"broadcasts/{letter.pk}",
            "services",
            "settings",
            least=15,
        )

    def open_everything(self, *views: str, least: int) -> None:
        """Each menu, panel, form and dialog that a button of these views opens, in both themes."""
        page, opened = self.open(), 0
        self.sign_in(page, "noor@larkmoor.example")
        for view in views:
            at = f"{self.live_server_url}/w/{self.world.workspace.slug}/{view}"
            page.goto(at)
            expect(page.get_by_role("main")).to_have_attribute("aria-busy", "false")
            page.wait_for_load_state("networkidle")
            buttons = page.get_by_role("main").get_by_role("button")
            names = buttons.evaluate_all("all => all.map(one => one.ariaLabel ?? one.textContent)")
            kinds = {
                re.sub(r"\d+|“.*|: .*", "", name): number
                for number, name in enumerate(names)
                if OPENS.match(name) and buttons.nth(number).is_enabled()
            }
            for name, number in kinds.items():
                page.goto(at)
                expect(page.get_by_role("main")).to_have_attribute("aria-busy", "false")
                buttons.nth(number).press("Enter")
                page.wait_for_timeout(350)
                opened += 1
                for scheme in ("light", "dark"):
                    page.emulate_media(color_scheme=scheme)
                    rules = {"type": "tag", "values": RULES}
                    if scheme == "dark":
                        page.wait_for_timeout(150)
                        rules = {"type": "rule", "values": COLOURS}
                    with self.subTest(view, opened=name, scheme=scheme):
                        self.assertEqual(found_by_axe(page, rules), [])
                        self.assertEqual(small_targets(page), [])
                page.emulate_media(color_scheme="light")
        self.assertGreaterEqual(opened, least, "what opens has other names now")

    def test_on_a_low_screen_the_head_leaves_room(self) -> None:
        """640x400 is a desktop enlarged to twice, or a phone that lies."""
        page = self.open(640, 400)
        self.sign_in(page, "noor@larkmoor.example")
        for view in (
            f"sequences/{self.world.sequence.pk}",
            f"sources/{self.world.source.pk}",
            f"messages/{self.world.guide.pk}",
            "settings",
        ):
            page.goto(f"{self.live_server_url}/w/{self.world.workspace.slug}/{view}")
            expect(page.get_by_role("main")).to_have_attribute("aria-busy", "false")
            page.mouse.move(320, 300)
            page.mouse.wheel(0, 300)
            page.wait_for_timeout(400)
            self.assertGreater(page.evaluate("scrollY"), 100, view)
            covered = page.evaluate(
                """() => Math.max(0, ...[...document.querySelectorAll("body *")]
                    .filter(one => ["sticky", "fixed"].includes(getComputedStyle(one).position))
                    .map(one => one.getBoundingClientRect())
                    .filter(at => at.width > 200 && at.top <= 48 && at.top >= 0)
                    .map(at => at.bottom))"""
            )
            with self.subTest(view):
                self.assertLessEqual(covered, 72)

    def test_the_main_views(self) -> None:
        page = self.open()
        page.goto(f"{self.live_server_url}/sign-in")
        self.assertEqual(self.violations(page), [], "sign-in")
        self.sign_in(page, "noor@larkmoor.example")
        world = self.world
        tag = Tag.objects.of(world.workspace).get(name="moon")
        parts = (TagTest(tag=str(tag.pk)), MembershipTest(list=str(world.news.pk), holds=False))
        audience = make_audience(
            world.workspace, "Moon", AudienceDocument(who=Group(of=parts)), None
        )
        look_ahead(world.workspace)
        letter, sent = a_broadcast(world), a_broadcast(world, "Sent")
        set_off(sent, world.member)
        for view in (
            "desk",
            "sources",
            f"sources/{world.source.pk}",
            f"sources/{world.source.pk}/revisions/1",
            f"submissions/{self.person.submissions.get().pk}",
            "people",
            "audiences",
            f"audiences/{audience.pk}",
            f"audiences/{audience.pk}/revisions/1",
            "broadcasts",
            f"broadcasts/{letter.pk}",
            f"broadcasts/{sent.pk}",
            f"broadcasts/{sent.pk}/revisions/1",
            f"people/{self.person.pk}",
            "lists",
            "sequences",
            "sequences/ahead",
            f"sequences/{world.sequence.pk}",
            "messages",
            f"messages/{world.guide.pk}",
            f"messages/{world.guide.pk}/revisions/1",
            "messages/style",
            "messages/pictures",
            "messages/delivery",
            "snags",
            "settings",
            "submissions",
            "fields",
            "history",
            f"people/{self.person.pk}/merge",
            f"sources/{world.source.pk}/replay",
            f"sources/{world.source.pk}/rehearsal",
            *(f"sources/{one.pk}" for one in self.other_sources()),
        ):
            page.goto(f"{self.live_server_url}/w/{world.workspace.slug}/{view}")
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.look_at(page, view)

    def other_sources(self) -> list[Source]:
        """A source of every other kind."""
        kinds = (one for one in Source.Kind if one != Source.Kind.FORM)
        return [make_source(self.world.workspace, f"By {one}", kind=one) for one in kinds]

    def test_the_pages_of_the_public(self) -> None:
        page = self.open()
        now = clock.now(self.world.workspace)
        row = OwnRequest.everywhere.create(
            workspace=self.world.workspace,
            subscriber=self.person,
            kind="erase",
            to=self.person.address,
            asked_at=now,
            because={},
        )
        for address in (own_address(self.person.pk, now), request_address(row.pk, now)):
            page.goto(self.live_server_url + urlsplit(address).path)
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.assertEqual(self.violations(page), [], address)
            page.set_viewport_size({"width": 360, "height": 700})
            width = page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(width, 360, "it scrolls sideways")

    def test_services_and_a_map(self) -> None:
        world = self.world
        service = connect(world.workspace, "Star letters", "", shipped()["list-service"])
        set_secrets(service, {"key": KEY})
        shop = connect(world.workspace, "Shop", "", shipped()["telescope-shop"])
        email = str(Field.objects.of(world.workspace).get(key="email").pk)
        handover = Handover(
            service=str(service.pk),
            operation="subscribe",
            chosen={"list": Chosen(things=("news",))},
            lines=(FarLine(id="m", to="email", what=email),),
            list=str(world.news.pk),
        )
        world.change_route(then=(Rule(id="t", action=HandOver(handover=handover)),))
        page = self.open()
        self.sign_in(page, world.user.email)
        at = f"{self.live_server_url}/w/{world.workspace.slug}"
        for view in (
            "services",
            f"services/{service.pk}",
            f"services/{shop.pk}",
            f"sources/{world.source.pk}",
        ):
            page.goto(f"{at}/{view}")
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            if view.startswith("sources"):
                page.get_by_role("button", name="Edit rule 1").click()
                table = page.get_by_role("group", name="Fields of Star letters")
                expect(table.get_by_role("group", name="Email")).to_be_visible()
            self.look_at(page, view)

    def test_an_email_itself(self) -> None:
        page = self.open()
        self.sign_in(page, self.world.user.email)
        at = f"/api/workspaces/{self.world.workspace.slug}/messages/{self.world.guide.pk}"
        # Its page lets no script run, so it is looked at as a page of its own.
        html = page.request.get(f"{self.live_server_url}{at}/preview.html").text()
        page.goto("about:blank")
        for scheme in ("light", "dark"):
            page.emulate_media(color_scheme="light" if scheme == "light" else "dark")
            page.set_content(html)
            page.evaluate(AXE.read_text())
            found: Any = page.evaluate(
                "rules => axe.run({runOnly: rules}).then(found => found.violations)", RULES
            )
            self.assertEqual([one["id"] for one in found], [], scheme)
            page.set_viewport_size({"width": 390, "height": 800})
            width = page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(width, 390, "it scrolls sideways on a phone")

    def test_a_replay_and_the_public_words(self) -> None:
        page = self.open()
        self.sign_in(page, "noor@larkmoor.example")
        at = f"{self.live_server_url}/w/{self.world.workspace.slug}"
        self.world.change_route(then=())
        page.goto(f"{at}/sources/{self.world.source.pk}/replay")
        page.get_by_role("button", name="Preview changes").click()
        expect(page.get_by_role("region", name="Each person")).to_be_visible()
        self.assertEqual(self.violations(page), [])
        page.goto(f"{at}/lists")
        page.get_by_role("button", name="Names and pages of Open-night news").click()
        self.assertEqual(self.violations(page), [])

    def test_a_sequence_with_its_parts_open(self) -> None:
        page = self.open()
        self.sign_in(page, self.world.user.email)
        page.goto(
            f"{self.live_server_url}/w/{self.world.workspace.slug}/sequences/{self.world.sequence.pk}"
        )
        for opens in ("Send “Your guide”", "Leaves", "Sends", "Second entry", "Emails of"):
            page.get_by_role("button", name=re.compile(f"^{opens}")).first.click()
            page.get_by_role("complementary").wait_for()
            self.assertEqual(self.violations(page), [], opens)
        page.get_by_role("button", name="Rehearse").click()
        page.get_by_role("list", name="What happens").wait_for()
        self.assertEqual(self.violations(page), [])

    def test_the_form_while_it_is_built(self) -> None:
        page = self.open()
        self.sign_in(page, "noor@larkmoor.example")
        at = f"{self.live_server_url}/w/{self.world.workspace.slug}"
        page.goto(f"{at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Edit look").click()
        page.get_by_role("button", name="Show ways").click()
        page.get_by_role("button", name="Edit What do you look at?").click()
        page.get_by_role("button", name="Edit the line for First name").click()
        page.get_by_role("button", name="Options of First name").click()
        self.assertEqual(self.violations(page), [])
        page.get_by_role("button", name="On a desktop").click()
        expect(page.frame_locator("iframe").get_by_label("Email")).to_be_visible()
        self.assertEqual(self.violations(page), [])
        page.goto(f"{at}/sources")
        page.get_by_role("button", name="New source").click()
        self.assertEqual(self.violations(page), [])

    def test_a_form_of_every_question(self) -> None:
        kinds = get_args(QuestionType)
        questions = tuple(
            Question(
                id=f"k{number}",
                name=kind,
                type=kind,
                label=f"The {kind}",
                help="Some help",
                required=True,
                boxes=2,
                look="drop_down" if kind == "choice" else "buttons",
                choices=LOOKS,
            )
            for number, kind in enumerate(kinds)
        )
        form = Form(title="Everything", questions=questions, style=FormStyle(font="legible"))
        save_route_draft(self.world.source, RouteDocument(form=form), None, None)
        page = self.open(390, 780)
        page.goto(
            f"{self.live_server_url}/f/{self.world.source.key}?try={try_token(self.world.source)}"
        )
        self.assertEqual(self.violations(page), [])
        page.get_by_role("button", name="Send").click()
        expect(page.get_by_role("alert").get_by_role("link")).to_have_count(len(kinds) + 3 - 1)
        self.assertEqual(self.violations(page), [])
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_the_public_pages(self) -> None:
        page = self.open(390, 780)
        page.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        self.assertEqual(self.violations(page), [])
        page.get_by_role("button").click()
        expect(page.get_by_role("alert")).to_be_visible()
        self.assertEqual(self.violations(page), [])
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_the_form_without_javascript_and_by_keyboard(self) -> None:
        context = self.house.browser.new_context(java_script_enabled=False)
        self.addCleanup(context.close)
        page = context.new_page()
        page.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        # As long as a person takes at least.
        page.wait_for_timeout(1_700)
        for keys in ("Tab", "toni@example.com", "Tab", "Toni", "Tab", "Space", "Tab", "Enter"):
            if keys in ("Tab", "Space", "Enter"):
                page.keyboard.press(keys)
            else:
                page.keyboard.type(keys)
        expect(page.get_by_role("heading", name="Thank you")).to_be_visible()
        self.assertEqual(self.world.source.submissions.count(), 2)

    def test_a_crash_of_a_room_leaves_a_sentence_and_a_way_back(self) -> None:
        context = self.house.browser.new_context()
        self.addCleanup(context.close)
        page = context.new_page()
        self.sign_in(page, "noor@larkmoor.example")
        # An answer that the room does not expect.
        page.route("**/people?*", lambda route: route.fulfill(json={"people": None}))
        page.get_by_role("link", name="People").click()
        expect(page.get_by_text("This screen stopped working")).to_be_visible()
        expect(page.get_by_role("navigation", name="Rooms")).to_be_visible()
        page.get_by_role("link", name="Back to the desk").click()
        expect(page.get_by_role("heading", name="Desk")).to_be_visible()
