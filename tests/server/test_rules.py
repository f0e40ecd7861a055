"""Rules of a route, carried out: conditions, every action, contradictions, members told."""

from email import message_from_bytes
from typing import Any

from django.core import mail
from django.test import TestCase, override_settings

from core.deciding import RouteDocument, Rule
from core.reading import Form, Question
from server.people.actions import make_list
from server.people.models import Fact, Subscriber, Tag, Task
from server.routes.actions import turn_on
from server.routing.notices import tell
from server.routing.routing import route_submission
from server.sequences.models import Run
from server.sources.actions import route_of_revision, save_route_draft
from server.submissions.receiving import send_test
from server.workspaces.models import Member, Role
from tests.world import LOOKS, make_user, make_world


class Rules(TestCase):
    def setUp(self) -> None:
        self.world = make_world()
        self.workspace = self.world.workspace
        self.offers = make_list(self.workspace, "Offers")
        self.fields = {one.key: str(one.pk) for one in self.workspace.field_set.all()}
        self.tags = {one.name: str(one.pk) for one in Tag.objects.of(self.workspace)}

    def rule(self, action: dict[str, Any], when: dict[str, Any] | None = None) -> Rule:
        self.number = getattr(self, "number", 0) + 1
        body = {"id": f"x{self.number}", "action": action}
        return Rule.model_validate(body | ({"when": when} if when else {}))

    def turn_on(self, *rules: Rule, keep: bool = False) -> RouteDocument:
        source = self.world.source
        live = route_of_revision(str(source.revisions.get(state="live").pk))
        route = live.model_copy(update={"then": (*(live.then if keep else ()), *rules)})
        save_route_draft(source, route, None, self.world.member)
        turn_on(source, self.world.member)
        return route

    def facts(self, person: Subscriber, kind: str) -> list[Any]:
        return [one.what for one in person.facts.filter(kind=kind).order_by("at", "id")]

    def test_a_condition_on_an_answer_and_on_what_earlier_rules_did(self) -> None:
        planets = {"kind": "answer", "question": "look", "op": "is", "value": "planets"}
        tagged = {"kind": "tag", "tag": self.tags["planets"]}
        self.turn_on(
            self.rule(
                {"kind": "add_tags", "tags": [self.tags["planets"]]},
                {"kind": "all", "of": [planets]},
            ),
            self.rule({"kind": "change_score", "by": 5}, {"kind": "all", "of": [tagged]}),
        )
        for address, look, score in (("a@b.example", "planets", 5), ("c@d.example", "moon", 0)):
            person = self.world.arrive(address, look=look)
            self.assertEqual(person.score, score)
        why = Fact.everywhere.get(kind="score").because["sentence"]
        self.assertEqual(why, "rule 2: has the tag planets")

    def test_how_many_times_somebody_came(self) -> None:
        again = {"kind": "happened", "what": "submitted", "at_least": 2}
        self.turn_on(
            self.rule({"kind": "record_event", "name": "came back"}, {"kind": "all", "of": [again]})
        )
        person = self.world.arrive("a@b.example")
        self.assertEqual(self.facts(person, "event"), [])
        self.world.arrive("a@b.example", look="moon")
        self.assertEqual(self.facts(person, "event"), [{"event": "came back"}])

    def test_tags_taken_off_and_made_from_answers(self) -> None:
        self.turn_on(
            self.rule({"kind": "remove_tags", "tags": [self.tags["guide"]]}),
            self.rule({"kind": "tag_from_answer", "question": "utm_source", "prefix": "source: "}),
            self.rule({"kind": "tag_from_answer", "question": "first_name", "only": ["Ines"]}),
            keep=True,
        )
        person = self.world.arrive("a@b.example", utm_source="fair", first_name="<b>Bo</b>")
        names = set(person.tags.values_list("name", flat=True))
        self.assertEqual(names, {"source: fair"})
        # The second person gets the very same tag.
        other = self.world.arrive("c@d.example", utm_source="FAIR", first_name="ines")
        self.assertEqual(set(other.tags.values_list("name", flat=True)), {"source: fair", "ines"})

    def test_an_answer_says_unsubscribe_and_the_persons_data_stays(self) -> None:
        form = Form(
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(id="q2", name="mail", type="choice", label="Mail", choices=LOOKS),
            )
        )
        person = self.world.arrive("a@b.example", first_name="Ines")
        self.assertEqual(person.memberships.get().state, "subscribed")
        action = {
            "kind": "change_subscription",
            "direction": "by_answer",
            "question": "mail",
            "list": str(self.world.news.pk),
            "subscribe_words": ["planets"],
            "unsubscribe_words": ["moon"],
        }
        source = self.world.source
        live = route_of_revision(str(source.revisions.get(state="live").pk))
        update = {
            "form": form,
            "read_as": live.read_as[:1],
            "then": (self.rule(action),),
            "consent": (),
        }
        save_route_draft(source, live.model_copy(update=update), None, None)
        turn_on(source, None)
        self.world.arrive("a@b.example", mail="moon")
        self.assertEqual(person.memberships.get().state, "unsubscribed")
        person.refresh_from_db()
        self.assertEqual(person.values["first_name"], "Ines")
        # The run of that list's sequence ends with it.
        self.assertIsNotNone(Run.objects.of(self.workspace).get(subscriber=person).ended_at)
        # An opt-out of somebody who is not there does nothing and is no error.
        stranger = self.world.arrive("new@b.example", mail="moon")
        self.assertEqual(stranger.memberships.count(), 0)

    def test_of_two_that_contradict_unsubscribing_wins(self) -> None:
        self.turn_on(
            self.rule(
                {
                    "kind": "change_subscription",
                    "direction": "unsubscribe",
                    "list": str(self.world.news.pk),
                },
                {"kind": "all", "of": [{"kind": "score", "op": "at_least", "value": 0}]},
            )
        )
        person = self.world.arrive("a@b.example")
        self.assertEqual(person.memberships.count(), 0)
        problems = (person.submissions.get().decision or {})["problems"]
        self.assertEqual([one["code"] for one in problems], ["contradiction"])

    def test_two_rules_that_both_unsubscribe_do_not_contradict(self) -> None:
        action = {"kind": "change_subscription", "direction": "unsubscribe"}
        when = {"kind": "all", "of": [{"kind": "score", "op": "at_least", "value": 0}]}
        one = self.rule(action | {"list": str(self.world.news.pk)}, when)
        person = self.world.arrive("a@b.example")
        source = self.world.source
        live = route_of_revision(str(source.revisions.get(state="live").pk))
        route = live.model_copy(update={"consent": (), "then": (one, self.rule(action, when))})
        save_route_draft(source, route, None, None)
        turn_on(source, None)
        self.world.arrive("a@b.example", look="moon")
        self.assertEqual(person.memberships.get().state, "unsubscribed")
        decision: Any = person.submissions.order_by("-received_at")[0].decision
        self.assertEqual(decision["problems"], [])
        kinds = [one["kind"] for one in decision["effects"]]
        self.assertEqual(kinds, ["subscribe", "leave_all_lists"])

    def test_a_rule_subscribes_nobody_who_left(self) -> None:
        self.turn_on(
            self.rule(
                {
                    "kind": "change_subscription",
                    "direction": "subscribe",
                    "list": str(self.offers.pk),
                }
            )
        )
        person = self.world.arrive("a@b.example")
        offers = person.memberships.get(list=self.offers)
        self.assertEqual(offers.state, "subscribed")
        person.memberships.filter(list=self.offers).update(state="unsubscribed")
        self.world.arrive("a@b.example", look="moon")
        self.assertEqual(person.memberships.get(list=self.offers).state, "unsubscribed")

    def test_a_sequence_is_stopped(self) -> None:
        person = self.world.arrive("a@b.example")
        self.assertEqual(Run.objects.of(self.workspace).filter(ended_at=None).count(), 1)
        self.turn_on(self.rule({"kind": "stop_sequence"}))
        self.world.arrive("a@b.example", look="moon")
        run = Run.objects.of(self.workspace).get(subscriber=person)
        self.assertEqual(run.ended, "stopped")

    def test_a_message_goes_out_now_and_once(self) -> None:
        self.turn_on(self.rule({"kind": "send_now", "message": str(self.world.fits.pk)}))
        person = self.world.arrive("a@b.example", first_name="Ines")
        [send] = self.world.sends()
        self.assertTrue(send.asked_for)
        self.assertEqual(send.message, self.world.fits)
        submission = person.submissions.get()
        submission.state = "received"
        submission.save()
        route_submission(str(submission.pk))
        self.assertEqual(len(self.world.sends()), 1)

    def test_owners_in_turn_and_tasks_for_them(self) -> None:
        other = Member.objects.create(
            workspace=self.workspace, user=make_user("bo@larkmoor.example"), role=Role.EDITOR
        )
        members = [str(self.world.member.pk), str(other.pk)]
        self.turn_on(
            self.rule({"kind": "set_owner", "how": "in_turn", "members": members}),
            self.rule({"kind": "make_task", "title": "Call them", "days": 2}),
        )
        people = [self.world.arrive(f"p{number}@b.example") for number in range(4)]
        self.assertEqual([str(one.owner_id) for one in people], members * 2)
        [first, *_] = Task.objects.of(self.workspace).order_by("pk")
        self.assertEqual((first.title, first.member), ("Call them", self.world.member))
        self.assertEqual((first.due_at - first.made_at).days, 2)
        # Never taken from another.
        self.world.arrive("p0@b.example", look="moon")
        people[0].refresh_from_db()
        self.assertEqual(str(people[0].owner_id), members[0])

    @override_settings(EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend")
    def test_members_are_told_with_the_answers(self) -> None:
        self.turn_on(self.rule({"kind": "notify", "members": [str(self.world.member.pk)]}))
        person = self.world.arrive("a@b.example", first_name="<i>Ines</i>", look="moon")
        submission = person.submissions.get()
        tell(str(submission.pk), str(person.pk), str(self.world.member.pk))
        [letter] = mail.outbox
        self.assertEqual(letter.to, [self.world.user.email])
        self.assertEqual(letter.subject, "Telescope guide: a@b.example")
        self.assertIn("What do you look at?: Moon", letter.body)
        raw = message_from_bytes(letter.message().as_bytes())
        html = raw.get_payload()[1].get_payload(decode=True).decode()  # type: ignore[index, union-attr]
        self.assertIn("&lt;i&gt;Ines", html)
        self.assertEqual(self.facts(person, "told")[0]["members"], [self.world.user.email])

    def test_a_field_is_put_and_emptied(self) -> None:
        self.turn_on(
            self.rule({"kind": "put_field", "field": self.fields["last_name"], "value": "Guest"})
        )
        person = self.world.arrive("a@b.example")
        self.assertEqual(person.values["last_name"], "Guest")
        self.turn_on(self.rule({"kind": "put_field", "field": self.fields["last_name"]}))
        self.world.arrive("a@b.example", look="moon")
        person.refresh_from_db()
        self.assertNotIn("last_name", person.values)

    def test_a_draft_that_was_tried_is_not_kept_in_memory(self) -> None:
        """A draft keeps its id when it is turned on; what a test saw of it must not stay."""
        source = self.world.source
        live = route_of_revision(str(source.revisions.get(state="live").pk))
        save_route_draft(source, live.model_copy(update={"then": ()}), None, None)
        test = send_test(source, (("email", "x"),), self.world.member)
        route_submission(str(test.pk))
        draft = source.revisions.get(state="draft")
        route_of_revision(str(draft.pk))
        final = live.model_copy(update={"then": (self.rule({"kind": "change_score", "by": 3}),)})
        save_route_draft(source, final, draft.edits, None)
        turn_on(source, None)
        self.assertEqual(self.world.arrive("a@b.example").score, 3)
