"""Routes that update, change addresses and erase: at once from a trusted source, else by email."""

from typing import Any

from django.core import mail
from django.test import TestCase

from core.deciding import RouteDocument
from core.reading import ReadLine
from server.mail.own_requests import send_link
from server.people.models import OwnRequest, Subscriber
from server.profiles.tasks import change_address_of, erase_person
from server.routing.routing import route_submission
from server.sources.actions import shown_revision
from server.sources.models import Source
from server.submissions.models import Submission
from tests.world import make_world


class Operations(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.person = self.world.arrive("ines@example.com", look="moon")

    def route(self, operation: str, kind: str = "form", **more: Any) -> None:
        Source.everywhere.filter(pk=self.world.source.pk).update(kind=kind)
        self.world.change_route(operation=operation, **more)

    def change(self, kind: str) -> None:
        shown = shown_revision(self.world.source).document
        email = RouteDocument.model_validate(shown).read_as[0]
        line = ReadLine(id="r1", question="first_name", field=email.field)
        form = RouteDocument.model_validate(shown).form
        needed = tuple(
            one.model_copy(update={"required": True}) if one.name == "first_name" else one
            for one in form.questions
        )
        self.route(
            "change_address",
            kind,
            old_address="email",
            read_as=(line,),
            form=form.model_copy(update={"questions": needed}),
        )

    def come(self, address: str, **answers: str) -> Submission:
        row = self.world.submit(address, **answers)
        route_submission(str(row.pk))
        row.refresh_from_db()
        return row

    def test_update_only_stores_nobody(self) -> None:
        self.route("update_only")
        row = self.come("new@example.com", look="moon")
        self.assertEqual((row.state, row.subscriber, row.snag), ("routed", None, None))
        self.assertEqual(Subscriber.objects.of(self.workspace).count(), 1)
        self.come("ines@example.com", look="planets")
        self.assertIn("planets", self.world.tags_of(self.person))

    def test_add_only_leaves_who_is_known(self) -> None:
        self.route("add_only")
        row = self.come("ines@example.com", look="planets")
        self.assertEqual(row.subscriber_id, self.person.pk)
        self.assertNotIn("planets", self.world.tags_of(self.person))

    def test_a_trusted_source_changes_the_address(self) -> None:
        self.change("webhook")
        self.come("ines@example.com", first_name="ines@new.example")
        [row] = OwnRequest.objects.of(self.workspace)
        change_address_of(str(row.pk))
        change_address_of(str(row.pk))
        self.person.refresh_from_db()
        self.assertEqual(self.person.address, "ines@new.example")

    def test_a_public_form_asks_both_addresses(self) -> None:
        self.change("form")
        self.come("ines@example.com", first_name="ines@new.example")
        self.assertEqual(self.follow("ines@example.com").status_code, 200)
        self.person.refresh_from_db()
        self.assertEqual(self.person.address, "ines@example.com")
        self.assertContains(self.follow("ines@new.example"), "Your address is changed")
        self.person.refresh_from_db()
        self.assertEqual(self.person.address, "ines@new.example")

    def test_a_public_form_erases_nobody_by_itself(self) -> None:
        self.route("erase", consent=(), then=())
        self.come("ines@example.com")
        self.assertTrue(Subscriber.objects.of(self.workspace).exists())
        self.assertContains(self.follow("ines@example.com"), "Your data is deleted")
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())

    def test_a_trusted_source_erases(self) -> None:
        self.route("erase", "webhook", consent=(), then=())
        row = self.come("ines@example.com")
        erase_person(str(self.person.pk))
        row.refresh_from_db()
        self.assertEqual(row.answers, [])
        self.assertFalse(Subscriber.objects.of(self.workspace).exists())

    def follow(self, to: str) -> Any:
        """POST at the link of the newest request that goes to this address."""
        row = OwnRequest.objects.of(self.workspace).filter(done_at=None).get()
        self.assertEqual(row.to, to)
        mail.outbox.clear()
        send_link(str(row.pk))
        body = str(mail.outbox[0].body)
        path = "/q/" + body.partition("/q/")[2].split()[0]
        return self.client.post(path)
