"""Who left, was erased or never agreed, and services: nothing goes to them, and nothing of them stays."""

from typing import Any

from django.test import Client, TestCase

from core.services import Chosen, FarLine, ServiceDescription, check_description
from server.people.actions import make_list
from server.people.erasing import erase_person
from server.people.memberships import unsubscribe
from server.people.models import MailingList, Subscriber
from server.people.suppression import suppress
from server.routing.routing import route_submission
from server.services import handing
from server.services.again import test_handoff as hand_over_a_test
from server.services.connecting import change
from server.services.handing import hand_over_due
from server.services.models import Attempt, Handoff
from server.services.tasks import forget
from server.snags.models import Snag
from server.sources.open_forms import forget as forget_form
from server.submissions.models import Submission
from server.workspaces.errors import Refused
from server.workspaces.models import Workspace
from tests.server.test_handoffs import Handing
from tests.world import WHY


class Law(Handing, TestCase):
    def leaves(self, person: Subscriber, mailing: MailingList | None = None) -> None:
        wanted = mailing or self.world.news
        unsubscribe(person, MailingList.everywhere.filter(pk=wanted.pk), WHY, "/p")

    def kept_of(self, words: str) -> list[str]:
        """Where words still stand in the rows of this room."""
        found = []
        for one in Handoff.everywhere.all():
            found += [str(text) for text in (one.address, one.outcome, one.answers, one.their_id)]
        for one in Attempt.everywhere.all():
            found += [one.request, one.answer]
        found += [one.sentence for one in Snag.everywhere.all()]
        return [one for one in found if words.lower() in one.lower()]

    def test_who_is_erased_while_they_are_on_their_way_leaves_nothing(self) -> None:
        """Erased between the request and the note of it: the worst moment."""
        self.hands_over(self.handover())
        person = self.world.arrive("leda@example.com", first_name="Ledaria", consent="on")
        note = handing._note

        def erased_meanwhile(*args: Any) -> None:
            erase_person(Subscriber.everywhere.get(pk=person.pk))
            note(*args)

        handing._note = erased_meanwhile  # type: ignore[assignment]
        try:
            hand_over_due(self.service.pk)
        finally:
            handing._note = note
        self.later(minutes=5)
        hand_over_due(self.service.pk)
        self.assertIsNone(self.person("leda@example.com"))
        self.assertEqual(self.kept_of("leda"), [])

    def test_who_may_be_there_is_erased_there(self) -> None:
        """The try got through and no answer came: they are over there, whatever is known here."""
        self.hands_over(self.handover())
        person = self.world.arrive("mina@example.com", first_name="Mina", consent="on")
        self.mood("lists", "stores-and-breaks")
        hand_over_due(self.service.pk)
        self.mood("lists", "well")
        self.assertEqual(self.handoff("mina@example.com").state, "waiting")
        erase_person(Subscriber.everywhere.get(pk=person.pk))
        self.later(minutes=5)
        hand_over_due(self.service.pk)
        self.assertIsNone(self.person("mina@example.com"))

    def test_who_may_be_there_is_unsubscribed_there(self) -> None:
        self.hands_over(self.handover())
        person = self.world.arrive("nils@example.com", first_name="Nils", consent="on")
        self.mood("lists", "stores-and-breaks")
        hand_over_due(self.service.pk)
        self.mood("lists", "well")
        self.leaves(person)
        self.later(minutes=5)
        hand_over_due(self.service.pk)
        self.assertEqual(self.person("nils@example.com")["lists"], {"news": "left"})

    def test_leaving_the_list_that_a_rule_names_is_passed_on(self) -> None:
        """The rule goes by another list than the connection does."""
        other = make_list(self.world.workspace, "Shop offers")
        self.service.list = other
        self.service.save(update_fields=["list"])
        self.hands_over(self.handover(list=str(self.world.news.pk)))
        person = self.world.arrive("olga@example.com", first_name="Olga", consent="on")
        hand_over_due(self.service.pk)
        self.assertEqual(self.person("olga@example.com")["lists"], {"news": "subscribed"})
        self.leaves(person)
        hand_over_due(self.service.pk)
        self.assertEqual(self.person("olga@example.com")["lists"], {"news": "left"})

    def test_who_is_suppressed_is_unsubscribed_there(self) -> None:
        """By their address or their domain; nobody else, and once."""
        self.hands_over(self.handover())
        names = ("ada@one.example", "ben@two.example", "cleo@sub.two.example", "dora@one.example")
        for address in names:
            self.world.arrive(address, first_name="Name", consent="on")
        hand_over_due(self.service.pk)
        suppress(self.world.workspace, ["Ada@One.example", "@two.example"], "asked", None)
        suppress(self.world.workspace, ["ada@one.example"], "asked again", None)
        hand_over_due(self.service.pk)
        states = {one: self.person(one)["lists"]["news"] for one in names}
        self.assertEqual([*states.values()], ["left", "left", "subscribed", "subscribed"])
        told = Handoff.everywhere.filter(origin__startswith="unsubscribe/suppressed/")
        self.assertEqual({one.state for one in told}, {"done"})
        self.assertEqual(told.count(), 2)

    def test_who_is_suppressed_is_passed_on_only_where_it_is_so_set(self) -> None:
        change(self.service, passes_leaving=False)
        self.hands_over(self.handover())
        self.world.arrive("ada@one.example", first_name="Ada", consent="on")
        hand_over_due(self.service.pk)
        suppress(self.world.workspace, ["ada@one.example"], "asked", None)
        self.assertEqual(hand_over_due(self.service.pk), 0)
        self.assertEqual(self.person("ada@one.example")["lists"], {"news": "subscribed"})

    def test_the_ip_address_goes_only_where_it_is_kept(self) -> None:
        lines = (
            *self.lines(email="email"),
            FarLine(id="ip", to="last_name", take="answer", what="@ip"),
        )
        self.hands_over(self.handover(lines=lines))
        for keeps, name in ((True, "kept"), (False, "not-kept")):
            Workspace.objects.update(keeps_ip=keeps)
            forget_form(self.world.source)
            answers = {"email": f"{name}@example.com", "consent": "on"}
            Client(REMOTE_ADDR="192.0.2.7").post(f"/f/{self.world.source.key}", answers)
            route_submission(str(Submission.everywhere.latest("received_at").pk))
            hand_over_due(self.service.pk)
            sent = self.person(f"{name}@example.com")["fields"].get("last_name")
            self.assertEqual(sent, "192.0.2.7" if keeps else None)

    def test_answers_that_went_along_go_after_the_retention_time(self) -> None:
        self.hands_over(self.handover())
        self.world.arrive("rita@example.com", first_name="Rita", consent="on")
        hand_over_due(self.service.pk)
        Workspace.objects.update(retention_days=30)
        self.later(days=29)
        forget(0)
        self.assertNotEqual(self.handoff("rita@example.com").answers, [])
        self.later(days=2)
        forget(0)
        self.assertEqual(self.handoff("rita@example.com").answers, [])
        self.assertEqual(self.handoff("rita@example.com").state, "done")

    def test_a_test_subscribes_nobody_who_did_not_agree(self) -> None:
        made = self.handover()
        answers = (("email", "stranger@example.com"),)
        values = {"email": "stranger@example.com", "first_name": "Stranger"}
        with self.assertRaises(Refused) as refused:
            hand_over_a_test(self.service, made, answers, None, values)
        self.assertIn("Enter a sample with your own address", str(refused.exception.problems))
        person = self.world.arrive("pia@example.com", first_name="Pia", consent="on")
        self.leaves(person)
        with self.assertRaises(Refused):
            hand_over_a_test(self.service, made, answers, None, {**values, "email": person.address})
        self.assertIsNone(self.person("stranger@example.com"))
        self.assertIsNone(self.person("pia@example.com"))
        # One's own address is one's own affair.
        own = self.world.user.email
        row, _, _ = hand_over_a_test(self.service, made, answers, None, {**values, "email": own})
        self.assertEqual(row.state, "done")

    def test_a_test_of_somebody_who_is_erased_goes_too(self) -> None:
        self.hands_over(self.handover())
        person = self.world.arrive("rosa@example.com", first_name="Rosalind", consent="on")
        values = {"email": person.address, "first_name": "Rosalind"}
        hand_over_a_test(self.service, self.handover(), (), None, values)
        self.assertIsNotNone(self.person("rosa@example.com"))
        erase_person(Subscriber.everywhere.get(pk=person.pk))
        self.later(minutes=5)
        hand_over_due(self.service.pk)
        self.assertIsNone(self.person("rosa@example.com"))
        self.assertEqual(self.kept_of("rosa"), [])

    def test_one_cause_is_one_snag_and_names_nobody(self) -> None:
        """The service's own sentence names the person; the snag is about the cause."""
        made = self.handover(
            operation="save",
            chosen={},
            lines=self.lines(email="email", first_name="first_name", last_name="first_name"),
        )
        self.hands_over(made)
        fields = [{**one, "longest": None} for one in self.service.fields]
        type(self.service).everywhere.filter(pk=self.service.pk).update(fields=fields)
        self.mood("lists", "names-people")
        for n in range(3):
            self.world.arrive(f"sven{n}@example.com", first_name=f"Sven{n}", consent="on")
        hand_over_due(self.service.pk)
        snag = Snag.everywhere.get()
        self.assertEqual(snag.times, 3)
        self.assertNotIn("sven", snag.sentence.lower())
        self.assertIn("sven0@example.com", self.handoff("sven0@example.com").outcome)


class Descriptions(TestCase):
    def faults(self, **parts: Any) -> list[str]:
        made: dict[str, Any] = {"name": "x", "base": "https://x.example", "error": "message"}
        found = check_description(ServiceDescription.model_validate({**made, **parts}))
        return [one.place for one in found]

    def test_an_expression_cannot_grow(self) -> None:
        """Each [@,@][] doubles what it is given: thirty of them would fill any memory."""
        for path in ("[@,@][]|[@,@][]", "{a: @, b: @}", "join('', @)", "a[]", "&a"):
            self.assertIn("who_name", self.faults(who_name=path), path)
        for path in ("people[0].id", "code == 'x'", "items[*].name", "a || b", "items[?x].id"):
            self.assertNotIn("who_name", self.faults(who_name=path), path)

    def test_a_page_over_there_is_a_page(self) -> None:
        for see in ("javascript:alert(1)", "data:text/html,x", "//x.example", "x"):
            self.assertIn("see", self.faults(see=see), see)
        self.assertNotIn("see", self.faults(see="https://x.example/p/{{ id }}"))


class Calls(Handing, TestCase):
    def test_a_body_that_is_deep_is_refused(self) -> None:
        for body in ("[" * 30_000, '{"a":' * 900 + "1" + "}" * 900, "{" * 60_000):
            answer = Client().post(
                f"/hear/{self.service.hear_key}", body, content_type="application/json"
            )
            self.assertIn(answer.status_code, (401, 422))

    def test_a_row_of_ids_is_nobodys(self) -> None:
        """Somebody else's service named in one's own rule is one that is gone."""
        made = self.handover(
            service="00000000-0000-0000-0000-000000000001", chosen={"list": Chosen()}
        )
        with self.assertRaises(Refused):
            self.hands_over(made)
