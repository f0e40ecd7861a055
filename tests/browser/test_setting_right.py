"""Setting right what went wrong: rehearsing, replaying, merging; and the person's own page."""

import re
from email.message import EmailMessage

from playwright.sync_api import Page, expect

from server.mail.actions import deliver_queued
from server.mail.models import live_document
from server.people.models import Subscriber
from tests.browser.case import TURN_ON, BrowserCase, MemberCase, wait_until
from tests.world import make_world


class SettingRight(MemberCase):
    def setUp(self) -> None:
        self.mailbox.empty()
        super().setUp()
        self.sheet = f"{self.at}/sources/{self.world.source.pk}"

    def tags(self, address: str) -> set[str]:
        person = Subscriber.objects.of(self.world.workspace).get(address=address)
        return self.world.tags_of(person)

    def more(self, item: str) -> None:
        self.page.get_by_role("button", name="More", exact=True).click()
        self.page.get_by_role("menuitem", name=item).click()

    def test_a_mistake_is_rehearsed_replayed_and_undone(self) -> None:
        page = self.page
        for number, look in enumerate(("moon", "planets")):
            self.world.arrive(f"p{number}@example.com", look=look)
        page.goto(self.sheet)
        page.get_by_role("button", name="Edit rule 1").click()
        first = page.get_by_role("region", name="Then").get_by_label("Tags", exact=True)
        first.click()
        first.press("Backspace")
        first.fill("stargazers")
        page.get_by_role("option", name="Create the tag “stargazers”").click()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        self.more("Rehearse with the last submissions")
        expect(page.get_by_text("2 differ from what was done")).to_be_visible()
        expect(page.get_by_role("row", name=re.compile("p1@example.com"))).to_contain_text(
            "− guide"
        )
        page.go_back()
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name=TURN_ON).click()
        expect(page.get_by_role("dialog")).to_be_hidden()
        self.more("Replay submissions")
        page.get_by_role("button", name="Preview changes").click()
        expect(page.get_by_text("2 people change", exact=True)).to_be_visible()
        row = page.get_by_role("row", name=re.compile("p0@example.com"))
        expect(row).to_contain_text("+ stargazers")
        self.assertEqual(self.tags("p0@example.com"), {"guide", "moon"})
        page.get_by_role("button", name="Carry it out for 2 people").click()
        expect(page.get_by_role("button", name="Undo this replay")).to_be_visible()
        self.assertEqual(self.tags("p0@example.com"), {"stargazers", "moon"})
        row.get_by_role("link", name="p0@example.com").click()
        expect(page.get_by_role("region", name="Tags")).to_contain_text("because replay by")
        page.go_back()
        page.get_by_role("button", name="Another replay").click()
        page.get_by_role("button", name="Preview changes").click()
        expect(page.get_by_text("nothing changes.", exact=True)).to_be_visible()
        page.get_by_role("region", name="Before").get_by_role("link").last.click()
        page.get_by_role("button", name="Undo this replay").click()
        expect(page.get_by_role("region", name="Undone")).to_be_visible()
        self.assertEqual(self.tags("p0@example.com"), {"guide", "moon"})

    def test_two_people_who_are_one(self) -> None:
        page = self.page
        kept = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        self.world.arrive("old@example.net", first_name="Agnes", look="planets")
        page.goto(f"{self.at}/people/{kept.pk}")
        self.more("Merge a duplicate")
        page.get_by_label("The duplicate").fill("agnes")
        page.get_by_role("option", name=re.compile("old@example.net")).click()
        expect(page.get_by_role("row", name=re.compile("Open-night news"))).to_contain_text(
            "subscribed"
        )
        page.get_by_label("First name: keep Agnes").check()
        expect(
            page.get_by_role("row", name=re.compile("First name")).get_by_role("cell").last
        ).to_have_text("Agnes")
        page.get_by_role("button", name="Merge the two").click()
        expect(page.get_by_text("Merged with old@example.net").first).to_be_visible()
        expect(page.get_by_role("heading", level=1)).to_have_text("Agnes")
        self.assertEqual(self.tags("ines@example.com"), {"guide", "moon", "planets"})
        page.get_by_role("button", name="Undo the merge").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Ines")
        self.assertEqual(self.tags("ines@example.com"), {"guide", "moon"})
        self.assertEqual(self.tags("old@example.net"), {"guide", "planets"})
        page.goto(f"{self.at}/history")
        expect(page.get_by_role("row").nth(1)).to_contain_text("undid a merge of two people")
        expect(page.get_by_role("row").nth(2)).to_contain_text("merged two people")


class OwnPage(BrowserCase):
    def setUp(self) -> None:
        self.mailbox.empty()
        self.world = make_world()
        self.person = self.world.arrive("ines@example.com", first_name="Ines", look="moon")
        wait_until(lambda: bool(self.mailbox.list("ines@example.com")))

    def newest(self, address: str, subject: str) -> EmailMessage:
        def there() -> list[EmailMessage]:
            found = [one.message for one in self.mailbox.list(address)]
            return [one for one in found if subject in str(one["Subject"])]

        wait_until(lambda: bool(there()))
        return there()[0]

    def link(self, mail: EmailMessage, kind: str) -> str:
        plain = mail.get_body(("plain",))
        assert plain is not None
        found = re.search(rf"https?://\S+/{kind}/\S+", str(plain.get_content()))
        assert found is not None
        return found[0]

    def open_own(self) -> Page:
        page = self.open()
        page.goto(self.link(self.newest("ines@example.com", "Your guide"), "p"))
        return page

    def state(self) -> str:
        return str(self.person.memberships.get().state)

    def test_leaving_coming_back_and_fewer(self) -> None:
        page = self.open_own()
        expect(page.get_by_text("ines@example.com")).to_be_visible()
        page.get_by_role("button", name="Unsubscribe from Open-night news").click()
        expect(page.get_by_role("status")).to_contain_text("You have unsubscribed from this list")
        self.assertEqual(self.state(), "unsubscribed")
        page.get_by_role("button", name="Subscribe again to Open-night news").click()
        expect(page.get_by_role("status")).to_contain_text("subscribed again")
        self.assertEqual(self.state(), "subscribed")
        page.get_by_label("Send me").select_option("at most one email every 7 days")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("status")).to_contain_text("applies from the next email on")
        self.person.refresh_from_db()
        self.assertEqual(self.person.gap_days, 7)

    def test_another_address_by_the_new_inbox(self) -> None:
        page = self.open_own()
        page.get_by_label("New address").fill("ines@new.example")
        page.get_by_role("button", name="Change address").click()
        expect(page.get_by_role("status")).to_contain_text("inbox of ines@new.example")
        page.goto(self.link(self.newest("ines@new.example", "Your new address"), "q"))
        page.get_by_role("button", name="Yes, change it").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Your address is changed")
        self.person.refresh_from_db()
        self.assertEqual(self.person.address, "ines@new.example")

    def test_their_data_and_being_erased_by_their_inbox(self) -> None:
        page = self.open_own()
        page.get_by_role("button", name="Send me all my data").click()
        expect(page.get_by_role("status")).to_contain_text("check your inbox")
        page.goto(self.link(self.newest("ines@example.com", "knows about you"), "q"))
        page.get_by_role("button", name="Read or print it").click()
        expect(page.get_by_text("You also get the news.")).to_be_visible()
        page = self.open_own()
        page.get_by_role("button", name="Delete all my data").click()
        page.goto(self.link(self.newest("ines@example.com", "Delete your data"), "q"))
        page.get_by_role("button", name="Yes, delete everything").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Your data is deleted")
        self.assertFalse(Subscriber.objects.of(self.world.workspace).exists())


class PromisedFile(BrowserCase):
    def test_put_in_linked_and_fetched(self) -> None:
        self.mailbox.empty()
        world = make_world()
        page = self.open()
        self.sign_in(page, world.user.email)
        at = f"{self.live_server_url}/w/{world.workspace.slug}"
        page.goto(f"{at}/messages/{world.guide.pk}")
        page.get_by_label("A file for this message").set_input_files(
            {"name": "guide.pdf", "mimeType": "application/pdf", "buffer": b"%PDF-1.7 guide"}
        )
        expect(page.get_by_text("guide.pdf")).to_be_visible()
        text = page.get_by_role("textbox", name="Text of the message")
        text.get_by_text("your guide").dblclick()
        page.get_by_role("button", name="Link", exact=True).click()
        page.get_by_role("button", name="To the file").click()
        expect(page.get_by_text("Draft saved")).to_be_visible()
        self.assertNotIn("file_link", live_document(world.guide).model_dump_json())
        page.get_by_role("button", name=TURN_ON).click()
        page.get_by_role("dialog").get_by_role("button", name="Turn on").click()
        wait_until(lambda: "file_link" in live_document(world.guide).model_dump_json())
        world.arrive("ines@example.com")
        wait_until(lambda: bool(self.mailbox.list("ines@example.com")))
        deliver_queued(world.workspace)
        html = self.mailbox.list("ines@example.com")[0].part("html")
        found = re.search(r"https?://[^\"]+/d/[^\"]+", html)
        assert found is not None
        answer = page.request.get(found[0])
        self.assertEqual((answer.status, answer.body()), (200, b"%PDF-1.7 guide"))
