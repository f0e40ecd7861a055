"""What the public reads of a list, and the pages in its own words."""

from datetime import timedelta

from core.documents import Because
from server.mail.confirm_links import confirm_address
from server.mail.models import Send
from server.mail.outcomes import softly_for_days
from server.people.links import leave_token
from server.people.memberships import bounce_all
from server.people.models import MailingList
from server.workspaces import clock
from tests.server.test_references import Api

WHY = Because(kind="person", sentence="the mail server refused the address: 550 5.1.1")


class Pages(Api):
    def put(self, status: int = 200, **more: object) -> None:
        body = {
            "name": self.world.news.name,
            "public_name": "Nights under the dome",
            "description": "Once a month",
            **more,
        }
        self.send("put", f"/lists/{self.world.news.pk}", body, status)

    def page(self, **words: str) -> dict[str, str]:
        return {"heading": "", "text": "", "address": "", **words}

    def test_the_public_name_stands_on_every_public_page(self) -> None:
        self.put()
        person = self.world.arrive("ines@example.com")
        send = self.world.sends(subscriber=person)[0]
        Send.everywhere.filter(pk=send.pk).update(list=self.world.news)
        self.assertContains(
            self.client.get(f"/u/{leave_token(str(send.pk))}"), "Nights under the dome"
        )
        [listed] = self.get("/lists")
        self.assertEqual((listed["name"], listed["public_name"]),
                         ("Open-night news", "Nights under the dome"))  # fmt: skip

    def test_pages_in_its_own_words(self) -> None:
        pages = {
            "asks": self.page(heading="One click more"),
            "confirmed": self.page(heading="Welcome", text="See you <b>soon</b>"),
            "left": self.page(heading="Goodbye"),
        }
        self.put(pages=pages)
        person = self.world.arrive("ines@example.com")
        row = person.memberships.get()
        row.state = "pending"
        row.save()
        path = "/c/" + confirm_address(row, clock.now(self.workspace)).partition("/c/")[2]
        self.assertContains(self.client.get(path), "One click more")
        page = self.client.post(path)
        self.assertContains(page, "Welcome")
        self.assertContains(page, "See you &lt;b&gt;soon")
        send = self.world.sends(subscriber=person)[0]
        Send.everywhere.filter(pk=send.pk).update(list=self.world.news)
        left = self.client.post(f"/u/{leave_token(str(send.pk))}", {"from": "list"})
        self.assertContains(left, "Goodbye")

    def test_a_page_elsewhere(self) -> None:
        there = self.page(address="https://www.example.org/welcome")
        self.put(pages={"confirmed": there})
        row = self.world.arrive("ines@example.com").memberships.get()
        MailingList.everywhere.filter(pk=row.list_id).update(confirms=True)
        row.state = "pending"
        row.save()
        path = "/c/" + confirm_address(row, clock.now(self.workspace)).partition("/c/")[2]
        self.assertEqual(self.client.post(path)["Location"], "https://www.example.org/welcome")

    def test_what_no_browser_can_go_to_is_refused(self) -> None:
        self.put(422, pages={"left": self.page(address="javascript:alert(1)")})


class Bounces(Api):
    def test_an_address_that_is_refused_bounces_on_every_list(self) -> None:
        person = self.world.arrive("ines@example.com")
        bounce_all(person, WHY)
        row = person.memberships.get()
        self.assertEqual((row.state, row.evidence.count()), ("bounced", 2))
        bounce_all(person, WHY)
        self.assertEqual(row.evidence.count(), 2)
        # Their own opt-in subscribes again.
        self.world.arrive("ines@example.com", look="planets")
        row.refresh_from_db()
        self.assertEqual(row.state, "subscribed")

    def test_three_soft_ones_in_a_row_over_three_days(self) -> None:
        person = self.world.arrive("ines@example.com")
        Send.objects.of(self.workspace).delete()
        now = clock.now(self.workspace)
        rows = [
            Send.everywhere.create(
                workspace=self.workspace,
                subscriber=person,
                message=self.world.guide,
                origin=f"x/{number}",
                state="refused",
                reply="452 4.2.2 mailbox full",
                soft_mailbox=True,
                because=WHY,
                queued_at=now - timedelta(days=days),
            )
            for number, days in enumerate((4, 2, 0))
        ]
        self.assertTrue(softly_for_days(rows[-1]))
        # One that was refused for another reason than the mailbox breaks the row.
        rows[1].soft_mailbox = False
        rows[1].save()
        self.assertFalse(softly_for_days(rows[-1]))
        rows[1].soft_mailbox, rows[0].queued_at = True, now - timedelta(days=2, hours=1)
        rows[0].save()
        rows[1].save()
        self.assertFalse(softly_for_days(rows[-1]))
