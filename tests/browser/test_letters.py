"""A letter from nothing to the inbox, and what its reader and the reader's mail server do with it."""

import io
from email.message import EmailMessage

from PIL import Image
from playwright.sync_api import Page, Route, expect

from server.mail.actions import deliver_queued
from server.mail.models import LibraryPicture, Returned, Send, live_document
from server.people.models import Membership, Suppression
from server.sequences.models import Run
from tests.browser.case import TURN_ON, MemberCase, wait_until
from tests.browser.test_whole_path import pick


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (1500, 700), "#1B2440").save(out, "PNG")
    return out.getvalue()


def logo(ink: str) -> bytes:
    """A bar on nothing."""
    image, out = Image.new("RGBA", (720, 160), (0, 0, 0, 0)), io.BytesIO()
    image.paste(ink, (100, 40, 620, 120))
    image.save(out, "PNG")
    return out.getvalue()


class Letters(MemberCase):
    def counts(self, *, clicks: bool) -> None:
        page = self.page
        page.goto(f"{self.at}/messages/style")
        box = page.get_by_label("Count which links people click")
        box.set_checked(clicks)
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("button", name="Save")).to_be_disabled()

    def choose_logo(self, button: str, ink: str) -> None:
        page = self.page
        page.get_by_role("button", name=button).click()
        chooser = page.get_by_role("dialog", name="Choose a picture")
        chooser.get_by_label("A picture as a file").set_input_files(
            {"name": f"{ink}.png", "mimeType": "image/png", "buffer": logo(ink)}
        )
        expect(chooser).to_be_hidden()
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("button", name="Save")).to_be_disabled()

    def test_a_logo_by_day_and_by_night(self) -> None:
        page = self.page
        # A page within another goes by what that asks of it, unless the test says what to prefer.
        page.emulate_media(color_scheme="null")
        page.goto(f"{self.at}/messages/style")
        self.choose_logo("Choose a logo", "black")
        warning = page.get_by_text("The logo is hard to see in dark mode")
        expect(warning).to_be_visible()
        self.choose_logo("Choose a logo for dark mode", "white")
        expect(warning).to_be_hidden()
        page.goto(f"{self.at}/messages/{self.world.guide.pk}")
        letter = page.frame_locator("iframe")
        by_day, by_night = letter.get_by_role("img").nth(0), letter.locator(".by-night img")
        rule = letter.locator(".rule > p").last
        expect(by_day).to_be_visible()
        expect(by_night).to_be_hidden()
        light = rule.evaluate("one => getComputedStyle(one).borderTopColor")
        page.get_by_label("View", exact=True).click()
        page.get_by_role("option", name="Dark mode").click()
        expect(by_night).to_be_visible()
        expect(letter.locator(".by-day img")).to_be_hidden()
        # The usual colours of a house style, in the core.
        dark = rule.evaluate("one => getComputedStyle(one).borderTopColor")
        self.assertEqual((light, dark), ("rgb(227, 220, 207)", "rgb(58, 67, 71)"))
        # While they are in use they cannot be deleted.
        page.goto(f"{self.at}/messages/pictures")
        expect(page.get_by_text(", in the house style")).to_have_count(2)
        for ink in ("black", "white"):
            expect(page.get_by_role("button", name=f"Delete {ink}")).to_be_disabled()

    def test_a_letter_from_nothing(self) -> None:
        page = self.page
        page.goto(f"{self.at}/messages")
        page.get_by_role("button", name="New message").click()
        page.get_by_label("What is it for?").fill("Open night")
        page.get_by_role("button", name="Create message").click()
        page.get_by_role("textbox", name="Subject").fill("Look through ours on Friday")
        text = page.get_by_role("textbox", name="Text of the message")
        text.click()
        page.keyboard.type("The dome is open.")
        # A picture, with words for whoever does not see it.
        page.get_by_role("button", name="Add block").click()
        page.get_by_role("menuitem", name="Picture").click()
        chooser = page.get_by_role("dialog", name="Choose a picture")
        chooser.get_by_label("A picture as a file").set_input_files(
            {"name": "dome.png", "mimeType": "image/png", "buffer": picture()}
        )
        expect(chooser).to_be_hidden()
        expect(page.get_by_role("button", name="Pre-flight: 1")).to_be_visible()
        page.get_by_role("textbox", name="Alternative text").fill("The dome at dusk")
        expect(page.get_by_role("button", name="Pre-flight: clear")).to_be_visible()
        # A button, and a text that is only for some.
        page.get_by_role("button", name="Add block").click()
        page.get_by_role("menuitem", name="Button").click()
        page.get_by_role("textbox", name="Button text").fill("Say that you come")
        page.get_by_role("textbox", name="Link").fill("https://larkmoor.example/come")
        page.get_by_role("button", name="Add block").click()
        page.get_by_role("menuitem", name="Text", exact=True).click()
        page.keyboard.type("You have been here before.")
        page.get_by_role("button", name="Actions of text 4").click()
        page.get_by_role("menuitem", name="Show to some people only").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Add condition").click()
        page.get_by_role("menuitem", name="the score").click()
        dialog.get_by_role("button", name="Save").click()
        expect(page.get_by_text("Only for: the score is at least 1")).to_be_visible()
        # A part of the footer, where the letter has it.
        page.get_by_role("button", name="Add block").click()
        page.get_by_role("menuitem", name="Part of the footer").click()
        page.get_by_role("combobox", name="Part of the footer").click()
        page.get_by_role("option", name="Why they get it").click()
        # In another order, by the menu, and back.
        page.get_by_role("button", name="Actions of button 3").click()
        page.get_by_role("menuitem", name="Move up").click()
        expect(page.get_by_role("group", name="button 2")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("group", name="button 3")).to_be_visible()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        self.see_and_try(page)

    def see_and_try(self, page: Page) -> None:
        """As somebody gets it: in the preview, in two of them, in plain text, in the own inbox."""
        frame = page.frame_locator("iframe")
        expect(frame.get_by_role("img", name="The dome at dusk")).to_be_visible()
        expect(frame.get_by_role("link", name="Say that you come")).to_be_visible()
        expect(frame.get_by_text("because you signed up")).to_have_count(1)
        page.get_by_role("button", name="Compare two").click()
        for side in ("Left", "Right"):
            pane = page.get_by_role("region", name=f"{side} preview")
            expect(
                pane.frame_locator("iframe").get_by_role("link", name="Say that you come")
            ).to_be_visible()
        page.get_by_role("button", name="Close").click()
        page.get_by_label("View", exact=True).click()
        page.get_by_role("option", name="Plain text").click()
        expect(page.get_by_label("Plain text", exact=True)).to_contain_text("[The dome at dusk]")
        page.get_by_role("button", name="Send test").click()
        expect(page.get_by_text("marked as a test")).to_be_visible()
        [received] = self.mailbox.list(self.world.user.email)
        self.assertTrue(str(received.message["Subject"]).startswith("[Test"))
        self.assertEqual(LibraryPicture.objects.of(self.world.workspace).count(), 1)

    def test_what_is_sent_changes_when_it_is_turned_on(self) -> None:
        page, guide = self.page, self.world.guide
        page.goto(f"{self.at}/messages/{guide.pk}")
        page.get_by_role("textbox", name="Subject").fill("Another subject")
        expect(page.get_by_text("The draft differs from what is sent")).to_be_visible()
        self.assertNotEqual(live_document(guide).subject, "Another subject")
        page.get_by_role("button", name=TURN_ON).click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_text("→ “Another subject”")).to_be_visible()
        dialog.get_by_label("Note for the history").fill("plainer")
        dialog.get_by_role("button", name="Turn on").click()
        expect(page.get_by_text("What is written is what is sent")).to_be_visible()
        self.assertEqual(live_document(guide).subject, "Another subject")
        page.get_by_role("link", name="1", exact=True).click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Your guide, revision 1")
        page.get_by_role("button", name="Restore as draft").click()
        expect(page.get_by_text("The draft differs from what is sent")).to_be_visible()

    def test_a_click_opens_a_door_and_stands_in_the_trail(self) -> None:
        self.counts(clicks=True)
        self.build_the_door()
        visitor = self.open(390, 780)
        visitor.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        visitor.wait_for_timeout(1_700)
        visitor.get_by_label("Email").fill("ines@example.com")
        visitor.get_by_label("First name").fill("Ines")
        visitor.get_by_role("button", name="Send").click()
        expect(visitor.get_by_text("It is on its way.")).to_be_visible()
        wait_until(lambda: len(self.mailbox.list("ines@example.com")) == 1)
        wait_until(lambda: Send.everywhere.filter(state="sent").exists())
        send = Send.objects.of(self.world.workspace).get(state="sent")
        # Nobody reads it in the first seconds.
        self.page.wait_for_timeout(4_500)
        inbox = self.open()
        inbox.goto(f"{self.outside}/inboxes/ines@example.com/")
        inbox.get_by_role("link", name="Your guide Ines").click()
        inbox.context.route(
            "https://www.larkmoor.example/**", lambda route: route.fulfill(body="x")
        )
        link = inbox.frame_locator("iframe").get_by_role("link", name="your guide")
        # Where it leads does not exist; that it is asked for is what counts.
        with inbox.context.expect_event(
            "request", lambda one: one.url == "https://www.larkmoor.example/guide"
        ):
            link.click()
        clicked = Run.everywhere.filter(sequence__name="Clicked")
        wait_until(clicked.exists, 60)
        person = clicked.get().subscriber
        self.assertEqual(person.address, "ines@example.com")
        self.page.goto(f"{self.at}/people/{person.pk}")
        expect(self.page.get_by_text("Clicked in “Your guide”")).to_be_visible()
        send.refresh_from_db()
        self.assertIsNotNone(send.clicked_at)
        self.page.goto(f"{self.at}/messages/{self.world.guide.pk}")
        expect(self.page.get_by_text("1 clicked (100% of 1)")).to_be_visible()

    def build_the_door(self) -> None:
        """A sequence that begins with whoever clicks the link of the guide."""
        page = self.page
        page.goto(f"{self.at}/sequences")
        page.get_by_role("button", name="New sequence").click()
        page.get_by_label("What is it for?").fill("Clicked")
        page.get_by_role("button", name="Create sequence").click()
        page.get_by_role("button", name="Emails of").click()
        pick(page, "Its emails belong to the list", "Open-night news")
        page.get_by_role("button", name="Add a step", exact=True).click()
        page.get_by_role("menuitem", name="Send an email", exact=True).click()
        pick(page, "Message", "Which one fits")
        page.get_by_role("button", name="Add a door").click()
        page.get_by_role("menuitem", name="A link is clicked").click()
        pick(page, "Message (empty: any)", "Your guide")
        page.get_by_label("address contains").fill("larkmoor.example/guide")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name="Turn on", exact=True).click()
        page.get_by_role("dialog").get_by_role("button", name="Turn on", exact=True).click()
        expect(page.get_by_role("dialog")).to_be_hidden()

    def test_the_inbox_shows_an_email_in_every_way(self) -> None:
        shown = f"{self.outside}/static/dome.png"
        message = EmailMessage()
        message["Subject"], message["To"] = "Clear skies", "ines@example.com"
        message["From"] = "Larkmoor <hello@larkmoor.example>"
        message["Date"] = "Thu, 26 Nov 2026 13:00:00 +0000"
        message.set_content("Look <up>")
        message.add_alternative(
            f'<html><head></head><body><p>Look up<img alt="Dome" src="{shown}"></body></html>',
            subtype="html",
        )
        self.mailbox.keep("hello@larkmoor.example", ["ines@example.com"], message.as_bytes())
        # The browser says each picture that it is kept from: not in a page that has to be silent.
        context = self.house.browser.new_context(user_agent=self.house.user_agent)
        self.addCleanup(context.close)
        inbox = context.new_page()
        asked: list[str] = []

        def fulfill(route: Route) -> None:
            asked.append(route.request.url)
            route.fulfill(body=b"")

        inbox.route(shown, fulfill)
        for width in (1280, 390):
            asked.clear()
            inbox.set_viewport_size({"width": width, "height": 800})
            inbox.goto(f"{self.outside}/inboxes/ines@example.com/")
            self.assertLessEqual(inbox.evaluate("document.documentElement.scrollWidth"), width)
            inbox.get_by_role("link", name="Clear skies").click()
            expect(inbox.frame_locator("iframe").get_by_text("Look up")).to_be_visible()
            inbox.wait_for_load_state("networkidle")
            self.assertEqual(len(asked), 1)
            inbox.get_by_role("link", name="Without pictures").click()
            expect(inbox.frame_locator("iframe").get_by_text("Look up")).to_be_visible()
            inbox.wait_for_load_state("networkidle")
            self.assertEqual(len(asked), 1, "a picture was loaded all the same")
            inbox.get_by_role("link", name="Plain text").click()
            expect(inbox.locator("pre")).to_contain_text("Look <up>")
            inbox.get_by_role("link", name="Source").click()
            expect(inbox.locator("pre")).to_contain_text("multipart/alternative")
            # The text is there before its style is.
            inbox.wait_for_load_state()
            self.assertLessEqual(inbox.evaluate("document.documentElement.scrollWidth"), width)
            listed = inbox.get_by_role("navigation", name="Emails").get_by_role("link").last
            expect(listed).to_be_visible(visible=width > 760)
            # Nothing that it does not say can be done with it.
            expect(inbox.get_by_role("button", name="Unsubscribe")).to_have_count(0)

    def test_a_bounce_and_a_complaint(self) -> None:
        gone = self.world.arrive("bounces-later@example.com")
        cross = self.world.arrive("cross@example.com")
        deliver_queued(self.world.workspace)
        wait_until(lambda: Membership.everywhere.get(subscriber=gone).state == "bounced", 30)
        inbox = self.open()
        inbox.goto(f"{self.outside}/inboxes/cross@example.com/")
        inbox.get_by_role("link", name="Your guide").click()
        inbox.get_by_role("button", name="Report as spam").click()
        expect(inbox.get_by_text("The mail provider was told")).to_be_visible()
        wait_until(lambda: Membership.everywhere.get(subscriber=cross).state == "complained", 30)
        self.assertEqual(
            Suppression.objects.of(self.world.workspace).get().key, "cross@example.com"
        )
        self.assertEqual(Returned.everywhere.count(), 2)
        self.page.goto(f"{self.at}/messages/delivery")
        expect(self.page.get_by_text("“550 5.1.1 The mailbox is no longer there”")).to_be_visible()
        expect(self.page.get_by_text("Reported as spam: cross@example.com")).to_be_visible()
        self.page.goto(f"{self.at}/people/{cross.pk}")
        expect(self.page.get_by_text("Reported “Your guide” as spam")).to_be_visible()

    def test_a_reply_and_an_answer_out_of_office(self) -> None:
        person = self.world.arrive("ines@example.com")
        deliver_queued(self.world.workspace)
        # The page of the inbox shows what is there when it is opened.
        wait_until(lambda: Send.everywhere.filter(subscriber=person, state="sent").exists(), 30)
        inbox = self.open()
        at = f"{self.outside}/inboxes/ines@example.com/"
        inbox.goto(at)
        inbox.get_by_role("link", name="Your guide").click()
        inbox.get_by_role("button", name="Answer out of office").click()
        expect(inbox.get_by_text("nobody reads this inbox until Monday")).to_be_visible()
        wait_until(lambda: Returned.everywhere.filter(kind="automatic").exists(), 30)
        inbox.goto(at)
        inbox.get_by_role("link", name="Your guide").click()
        inbox.get_by_label("Your reply").fill("Can I come by train?")
        inbox.get_by_role("button", name="Reply", exact=True).click()
        expect(inbox.get_by_text("The reply went to")).to_be_visible()
        wait_until(lambda: Returned.everywhere.filter(kind="reply").exists(), 30)
        # It goes on to the people who answer; the other is nobody's business.
        wait_until(lambda: len(self.mailbox.list(self.world.workspace.sender_address)) == 1, 30)
        (forwarded,) = self.mailbox.list(self.world.workspace.sender_address)
        self.assertIn("Can I come by train?", forwarded.part("plain"))
        self.page.goto(f"{self.at}/people/{person.pk}")
        expect(self.page.get_by_text("Event: replied")).to_have_count(1)

    def test_a_domain_that_is_not_published_yet_signs_nothing(self) -> None:
        page = self.page
        page.goto(f"{self.at}/messages/delivery")
        page.get_by_role("button", name="Add domain").click()
        expect(page.get_by_text("emails are not signed")).to_be_visible()
        expect(page.get_by_role("button", name="Sign emails")).to_be_disabled()
        expect(page.get_by_text("._domainkey.larkmoor.example", exact=False).first).to_be_visible()
