"""A source and a list in another language, from the form to the person's own page, through the screen."""

import re

from playwright.sync_api import Page, expect

from tests.browser.case import TURN_ON, MemberCase, wait_until

# The texts as the catalogues have them: a wrong answer, thanks, the frame of an email, leaving, the own page.
SAID = {
    "German": (
        "de", "ltr", "Bitte geben Sie eine vollständige E-Mail-Adresse ein", "Senden",
        "Sie erhalten diese E-Mail, weil Sie Open-night news abonniert haben", "Abmelden",
        "Von Open-night news abmelden", "Sie sind abgemeldet", "Ihre E-Mails und Ihre Daten",
        "Was wir über Sie wissen",
    ),
    "Arabic": (
        "ar", "rtl", "يُرجى إدخال عنوان بريد إلكتروني كامل", "إرسال",
        "تصلك هذه الرسالة لأنك مشترك في Open-night news", "إلغاء الاشتراك",
        "إلغاء الاشتراك في Open-night news", "تم إلغاء اشتراكك", "رسائلك وبياناتك",
        "ما نعرفه عنك",
    ),
}  # fmt: skip


class Languages(MemberCase):
    def setUp(self) -> None:
        self.mailbox.empty()
        super().setUp()

    def test_german(self) -> None:
        self.walk("German")

    def test_arabic(self) -> None:
        self.walk("Arabic")

    def test_own_words_from_the_screen_to_whoever_reads_them(self) -> None:
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Edit words").click()
        page.get_by_role("button", name=re.compile("^When an answer is missing or wrong")).click()
        wrong = "Please enter a full email address, such as name@example.org."
        page.get_by_role("textbox", name=wrong).fill("Hm, {{ name }}?")
        expect(page.get_by_text("{{ name }} cannot be filled in here.")).to_be_visible()
        page.get_by_role("textbox", name=wrong).fill("That is <not> an address yet.")
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name="Turn on 1 change").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text(f"form: “{wrong}” → “That is <not> an address yet.”")
        dialog.get_by_role("button", name=TURN_ON).click()
        expect(dialog).to_be_hidden()
        page.goto(f"{self.at}/lists")
        page.get_by_role("button", name="Names and pages of Open-night news").click()
        page.get_by_role("button", name=re.compile("^Footer of every email")).click()
        page.get_by_role("textbox", name="Unsubscribe", exact=True).fill("No more of these")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("status").filter(has_text="Saved")).to_be_visible()

        visitor = self.open()
        visitor.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        visitor.wait_for_timeout(1_700)
        visitor.get_by_label("Email").fill("nobody")
        visitor.get_by_role("button", name="Send").click()
        expect(visitor.get_by_role("alert")).to_contain_text("That is <not> an address yet.")
        visitor.get_by_label("Email").fill("ines@example.com")
        visitor.get_by_role("button", name="Send").click()
        expect(visitor.get_by_text("It is on its way.")).to_be_visible()
        wait_until(lambda: len(self.mailbox.list("ines@example.com")) == 1)
        self.open_email(visitor)
        letter = visitor.frame_locator("iframe")
        expect(letter.get_by_role("link", name="No more of these", exact=True)).to_be_visible()

    def walk(self, name: str) -> None:
        tag, way, wrong, send, why, leave, leave_list, left, own, known = SAID[name]
        self.choose(name)
        visitor = self.open(390, 780)
        visitor.goto(f"{self.live_server_url}/f/{self.world.source.key}")
        self.speaks(visitor, tag, way)
        visitor.wait_for_timeout(1_700)
        visitor.get_by_label("Email").fill("nobody")
        visitor.get_by_role("button", name=send).click()
        expect(visitor.get_by_role("alert")).to_contain_text(wrong)
        # No sideways scrolling on a phone, whichever way it is read.
        self.assertTrue(
            visitor.evaluate("document.documentElement.scrollWidth <= innerWidth"), name
        )
        visitor.get_by_label("Email").fill("ines@example.com")
        visitor.get_by_role("button", name=send).click()
        expect(visitor.get_by_text("It is on its way.")).to_be_visible()
        self.speaks(visitor, tag, way)
        wait_until(lambda: bool(self.mailbox.list("ines@example.com")))
        self.open_email(visitor)
        letter = visitor.frame_locator("iframe")
        expect(letter.get_by_text(why)).to_be_visible()
        href = letter.get_by_role("link", name=own).get_attribute("href") or ""
        visitor.goto(href)
        self.speaks(visitor, "en", "ltr")
        self.open_email(visitor)
        href = letter.get_by_role("link", name=leave, exact=True).get_attribute("href") or ""
        visitor.goto(href)
        self.speaks(visitor, tag, way)
        visitor.get_by_role("button", name=leave_list).click()
        expect(visitor.get_by_role("heading", name=left)).to_be_visible()
        # The page of their own is the workspace's, whose language a member sets too.
        self.speak_everywhere(name)
        self.open_email(visitor)
        href = letter.get_by_role("link", name=own).get_attribute("href") or ""
        visitor.goto(href)
        expect(visitor.get_by_role("heading", name=known)).to_be_visible()
        self.speaks(visitor, tag, way)

    def choose(self, name: str) -> None:
        page = self.page
        page.goto(f"{self.at}/sources/{self.world.source.pk}")
        page.get_by_role("button", name="Edit words").click()
        words = page.get_by_label("Words on the button")
        words.fill("Send")
        self.pick(page, "Language of the form", name)
        expect(page.get_by_text("Draft saved")).to_be_visible()
        page.get_by_role("button", name=TURN_ON).click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text(f"language as the workspace → {name}")
        dialog.get_by_role("button", name=TURN_ON).click()
        expect(dialog).to_be_hidden()
        page.goto(f"{self.at}/lists")
        page.get_by_role("button", name="Names and pages of Open-night news").click()
        self.pick(page, "Language of its pages and emails", name)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("status").filter(has_text="Saved")).to_be_visible()

    def speak_everywhere(self, name: str) -> None:
        page = self.page
        page.goto(f"{self.at}/messages/style")
        self.pick(page, "Language of pages and emails", name)
        page.get_by_role("button", name=re.compile("^Save")).click()
        page.wait_for_load_state("networkidle")

    def pick(self, page: Page, label: str, name: str) -> None:
        page.get_by_label(label).click()
        page.get_by_role("option", name=name, exact=True).click()

    def open_email(self, visitor: Page) -> None:
        visitor.goto(f"{self.outside}/inboxes/ines@example.com/")
        visitor.get_by_role("link", name=re.compile("Your guide")).first.click()

    def speaks(self, page: Page, tag: str, way: str) -> None:
        root = page.locator("html")
        expect(root).to_have_attribute("lang", tag)
        expect(root).to_have_attribute("dir", way)
