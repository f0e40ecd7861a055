"""Replay: what today's route would do differently, and nothing but that."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.deciding import (
    AddTag,
    ConsentLine,
    Effect,
    EnterSequence,
    Event,
    LeaveSequence,
    RemoveTag,
    RouteDocument,
    Score,
    Send,
    SetField,
    Subscribe,
    Task,
    decide,
)
from core.history import Allowed, Changed, Chosen, Done, Replayed, Scored, Trail, mark, replay
from core.history import take_back as take_back_replay
from core.people import MembershipState, Person
from core.reading import Form, ReadLine
from core.tests.observatory import ROUTE, submission
from core.tests.test_rules import HERE, route

CAME = datetime(2026, 11, 2, 9, 0, tzinfo=UTC)
NOW = datetime(2026, 11, 25, 9, 0, tzinfo=UTC)
EVERYTHING: frozenset[Allowed] = frozenset({"removals", "sequences", "messages"})
FACTS: frozenset[Allowed] = frozenset({"removals"})
BY = "replay by Ada on 25 Nov 2026"


class World:
    """One person with their trail, on whom decisions and replays are carried out in memory."""

    def __init__(self, person: Person | None = None) -> None:
        self.person, self.trail = person, Trail()
        self.chosen: list[Chosen] = []

    def come(
        self,
        sheet: RouteDocument,
        *,
        days: float = 0,
        answers: Mapping[str, str] | None = None,
        **more: str,
    ) -> "World":
        """A submission comes in and is carried out by `sheet`, so many days after the first."""
        at = CAME + timedelta(days=days)
        facts = submission(email="ines@example.com", **(answers or {}), **more)
        facts = replace(facts, submission_id=f"sub-{len(self.chosen)}")
        self.chosen.append(Chosen(facts, at, shown=sheet))
        decision = decide(facts, sheet, self.person, HERE, at)
        self.person = self.person or Person(address="ines@example.com")
        return self.carry(decision.effects, at)

    def replay(
        self, sheet: RouteDocument, allowed: frozenset[Allowed] = EVERYTHING, name: str = "r1"
    ) -> Replayed:
        """A replay of all that came, carried out."""
        found = self.see(sheet, allowed)
        self.person = self.person or Person(address="ines@example.com")
        self.carry(found.effects, NOW, replay_id=name)
        return found

    def see(self, sheet: RouteDocument, allowed: frozenset[Allowed] = EVERYTHING) -> Replayed:
        """The preview of a replay."""
        return replay(self.person, self.trail, self.chosen, sheet, HERE, allowed=allowed, by=BY)

    def undo(self, name: str = "r1") -> Replayed:
        assert self.person
        found = take_back_replay(self.person, self.trail, name, HERE, "undone by Ada")
        self.carry(found.effects, NOW + timedelta(minutes=5))
        return found

    def leave(self, one: str, at: datetime) -> "World":
        """The person unsubscribes by themself."""
        assert self.person
        before = self.person.membership(one)
        self._changed(("list", one), at, before, "unsubscribed", None, None)
        states: dict[str, MembershipState] = {**self.person.memberships, one: "unsubscribed"}
        self.person = replace(self.person, memberships=states)
        return self

    def carry(
        self, effects: tuple[Effect, ...], at: datetime, replay_id: str | None = None
    ) -> "World":
        for effect in effects:
            of = replay_id or effect.because.replay_id
            self._carry(effect, at, effect.because.submission_id, of)
        return self

    def _carry(self, effect: Effect, at: datetime, source: str | None, of: str | None) -> None:
        assert self.person
        person, trail = self.person, self.trail
        match effect:
            case SetField(key=key, after=after):
                values = {**person.values, key: after}
                if after == "":
                    del values[key]
                self._changed(("field", key), at, person.values.get(key), after, source, of)
                self.person = replace(person, values=values)
            case AddTag(tag=tag):
                self._changed(("tag", tag), at, False, True, source, of)
                self.person = replace(person, tags=person.tags | {tag})
            case RemoveTag(tag=tag):
                self._changed(("tag", tag), at, True, False, source, of)
                self.person = replace(person, tags=person.tags - {tag})
            case Subscribe(list=one, before=before, to=to):
                self._changed(("list", one), at, before, to, source, of)
                states = {**person.memberships, one: to}
                if to == "none":
                    del states[one]
                self.person = replace(person, memberships=states)
            case Score(before=before_score, after=after_score):
                scored = Scored(after_score - before_score, source, of)
                self.trail = replace(trail, scored=(*trail.scored, scored))
                self.person = replace(person, score=after_score)
            case Send(message=message):
                self.trail = replace(trail, messages=trail.messages | {message})
            case LeaveSequence(sequence=sequence):
                self.person = replace(person, under_way=person.under_way - {sequence})
            case _ if mark(effect):
                self.trail = replace(
                    trail, done=(*trail.done, Done(mark(effect) or "", source, of))
                )
                if isinstance(effect, EnterSequence):
                    entered = {effect.sequence}
                    self.person = replace(
                        person,
                        entered=person.entered | entered,
                        under_way=person.under_way | entered,
                    )

    def _changed(
        self,
        thing: tuple[str, str],
        at: datetime,
        before: object,
        after: object,
        source: str | None,
        of: str | None,
    ) -> None:
        change = Changed(thing, at, before, after, source, of)  # type: ignore[arg-type]
        self.trail = replace(self.trail, changes=(*self.trail.changes, change))


def words(found: Replayed) -> list[str]:
    return [one.in_words() for one in found.effects]


MOON = {"kind": "add_tags", "tags": ["t-moon"]}
PLANETS = {"kind": "add_tags", "tags": ["t-planets"]}


class Differences(TestCase):
    def test_the_same_route_does_nothing(self) -> None:
        world = World().come(ROUTE, look="moon", news="on", name="ines alba")
        self.assertEqual(world.see(ROUTE), world.see(ROUTE))
        self.assertEqual(words(world.see(ROUTE)), [])

    def test_a_wrong_tag_is_replaced(self) -> None:
        world = World().come(route(MOON))
        found = world.replay(route(PLANETS))
        self.assertEqual(words(found), ["+ planets", "− moon"])
        self.assertEqual([one.change() for one in found.effects], ["adds", "removes"])
        self.assertEqual(found.effects[0].because.sentence, f"{BY}: rule 1: everybody from here")
        self.assertIn("today's route does not do it", found.effects[1].because.sentence)
        self.assertEqual(words(world.see(route(PLANETS))), [])

    def test_nothing_is_taken_away_where_that_is_not_allowed(self) -> None:
        world = World().come(route(MOON))
        found = world.replay(route(PLANETS), frozenset())
        self.assertEqual(words(found), ["+ planets"])
        self.assertEqual(found.kept, ("moon: this replay takes nothing away",))

    def test_a_tag_that_somebody_else_gave_stays(self) -> None:
        world = World(Person(address="ines@example.com", tags=frozenset({"t-moon"})))
        world.come(route(MOON))
        self.assertEqual(words(world.see(route(PLANETS))), ["+ planets"])

    def test_what_another_submission_gives_too_stays(self) -> None:
        world = World().come(route(MOON), look="moon", name="Ana Alba")
        # Another way in, later: the tag is there already, and so leaves no mark in the trail.
        world.come(route(MOON), days=1, name="Ana Alba")
        first, other = world.chosen
        assert world.person
        bare = route().model_copy(update={"read_as": ROUTE.read_as[:1]})

        def seen(others: list[Chosen]) -> Replayed:
            return replay(
                world.person,
                world.trail,
                [first],
                bare,
                HERE,
                allowed=EVERYTHING,
                by=BY,
                others=others,
            )

        self.assertEqual(
            words(seen([])),
            [
                "First name: Ana → empty",
                "Interest: Moon → empty",
                "Last name: Alba → empty",
                "− moon",
            ],
        )
        found = seen([other])
        self.assertEqual(words(found), ["Interest: Moon → empty"])
        self.assertIn("moon: another submission gives it too, and it stays", found.kept)

    def test_what_was_changed_since_stays(self) -> None:
        world = World().come(ROUTE, name="Ines Alba")
        later = CAME + timedelta(days=3)
        world.carry(
            decide(
                submission(email="ines@example.com", name="Inês Alba"),
                ROUTE,
                world.person,
                HERE,
                later,
            ).effects,
            later,
        )
        first = ReadLine(id="r2", question="name", field="f-first", part="last")
        other = ROUTE.model_copy(update={"read_as": (ROUTE.read_as[0], first)})
        found = world.see(other)
        self.assertEqual(words(found), ["Last name: Alba → empty"])
        self.assertEqual(found.kept, ("First name was changed since, and stays",))

    def test_several_submissions_of_one_person_are_taken_back_together(self) -> None:
        world = World().come(ROUTE, name="Ana Alba")
        world.come(ROUTE, days=1, name="Anna Alba")
        bare = ROUTE.model_copy(update={"read_as": (ROUTE.read_as[0],)})
        found = world.replay(bare)
        self.assertEqual(words(found), ["First name: Anna → empty", "Last name: Alba → empty"])
        self.assertEqual(words(world.see(bare)), [])

    def test_a_score_is_corrected_by_the_difference(self) -> None:
        world = World(Person(address="ines@example.com", score=7))
        world.come(route({"kind": "change_score", "by": 10}))
        world.come(route({"kind": "change_score", "by": 10}), days=1)
        found = world.replay(route({"kind": "change_score", "by": 1}))
        self.assertEqual(words(found), ["score 27 → 9"])
        self.assertEqual(words(world.see(route({"kind": "change_score", "by": 1}))), [])

    def test_somebody_whom_the_submission_never_gave_is_made(self) -> None:
        unmapped = ROUTE.model_copy(update={"read_as": ROUTE.read_as[1:]})
        world = World()
        facts = submission(email="ines@example.com", look="moon")
        world.chosen.append(Chosen(facts, CAME, shown=unmapped))
        self.assertIsNone(decide(facts, unmapped, None, HERE, CAME).address)
        found = world.see(ROUTE)
        self.assertEqual(found.decisions[0][1].address, "ines@example.com")
        self.assertIn("+ guide", words(found))
        self.assertEqual(words(replay_nobody(unmapped)), [])

    def test_another_address_is_left_with_its_person(self) -> None:
        world = World().come(ROUTE)
        friend = ReadLine(id="r1", question="friend", field="f-email")
        other = ROUTE.model_copy(update={"read_as": (friend,)})
        facts = submission(email="ines@example.com", friend="ada@example.net")
        world.chosen = [Chosen(replace(facts, submission_id="sub-0"), CAME)]
        self.assertIn("ada@example.net", world.see(other).kept[0])

    def test_conditions_look_at_what_had_happened_then(self) -> None:
        often = {
            "kind": "add_tags",
            "tags": ["t-planets"],
            "when": {
                "of": [{"kind": "happened", "what": "submitted", "about": "source", "at_least": 2}]
            },
        }
        world = World().come(route())
        self.assertEqual(words(world.see(route(often))), [])


def replay_nobody(sheet: RouteDocument) -> Replayed:
    facts = submission(email="ines@example.com")
    return replay(None, Trail(), [Chosen(facts, CAME)], sheet, HERE, allowed=EVERYTHING, by=BY)


NEWS_TOO = ROUTE.model_copy(update={"then": ()})


class Consent(TestCase):
    def test_a_list_that_was_forgotten(self) -> None:
        forgot = NEWS_TOO.model_copy(update={"consent": ()})
        world = World().come(forgot, news="on")
        found = world.replay(NEWS_TOO)
        self.assertEqual(words(found), ["Open-night news: not on it → subscribed"])
        [change] = [one for one in found.effects if isinstance(one, Subscribe)]
        self.assertEqual(change.wording, "Send me the news")

    def test_the_wording_is_the_one_they_saw(self) -> None:
        line = ConsentLine(id="c1", list="l-news", question="news", wording="Old words")
        world = World().come(
            NEWS_TOO.model_copy(update={"consent": (line.model_copy(update={"list": "gone"}),)}),
            news="on",
        )
        today = line.model_copy(update={"wording": "New words"})
        found = world.see(NEWS_TOO.model_copy(update={"consent": (today,)}))
        [change] = [one for one in found.effects if isinstance(one, Subscribe)]
        self.assertEqual(change.wording, "Old words")

    def test_what_their_form_did_not_ask_subscribes_nobody(self) -> None:
        silent = NEWS_TOO.model_copy(update={"consent": ()})
        world = World().come(silent)
        everybody = ConsentLine(id="c9", list="l-news", wording="By sending this you subscribe.")
        found = world.see(silent.model_copy(update={"consent": (everybody,)}))
        self.assertEqual(words(found), [])
        self.assertEqual(found.kept, ("Open-night news: the form they saw did not ask for it",))

    def test_a_posted_form_of_ones_own_asks_what_is_not_known_here(self) -> None:
        posted = NEWS_TOO.model_copy(update={"form": Form(), "consent": ()})
        line = ConsentLine(id="c1", list="l-news", question="news")
        world = World().come(posted, news="on")
        found = world.see(posted.model_copy(update={"consent": (line,)}))
        self.assertEqual(words(found), ["Open-night news: not on it → subscribed"])

    def test_nobody_who_left_is_brought_back(self) -> None:
        world = World().come(NEWS_TOO, news="on").leave("l-news", CAME + timedelta(days=1))
        self.assertEqual(words(world.see(NEWS_TOO)), [])
        # Nor by a list that they left before.
        forgot = NEWS_TOO.model_copy(update={"consent": ()})
        world = World(Person(address="ines@example.com", memberships={"l-news": "subscribed"}))
        world.leave("l-news", CAME - timedelta(days=1)).come(forgot, news="on")
        found = world.see(NEWS_TOO)
        self.assertEqual(words(found), [])
        self.assertIn("brings nobody back", found.kept[0])

    def test_the_trails_of_two_who_were_merged(self) -> None:
        """The one left, the other came in later: the newest entry is not what they are."""
        world = World().come(NEWS_TOO, news="on").leave("l-news", CAME + timedelta(days=1))
        world.come(NEWS_TOO, days=2, news="on")
        assert world.person
        self.assertEqual(world.person.membership("l-news"), "subscribed")
        states: dict[str, MembershipState] = {"l-news": "unsubscribed"}
        world.person = replace(world.person, memberships=states)
        for sheet in (NEWS_TOO, NEWS_TOO.model_copy(update={"consent": ()})):
            changes = [one for one in world.see(sheet).effects if isinstance(one, Subscribe)]
            self.assertEqual(changes, [])

    def test_a_list_that_was_wrong_is_taken_back(self) -> None:
        world = World().come(NEWS_TOO, news="on")
        found = world.replay(NEWS_TOO.model_copy(update={"consent": ()}))
        self.assertEqual(words(found), ["Open-night news: subscribed → not on it"])
        world.undo()
        assert world.person
        self.assertEqual(world.person.membership("l-news"), "subscribed")

    def test_a_stricter_route_asks_nobody_again(self) -> None:
        world = World().come(NEWS_TOO, news="on")
        strict = NEWS_TOO.consent[0].model_copy(update={"confirm": True})
        self.assertEqual(words(world.see(NEWS_TOO.model_copy(update={"consent": (strict,)}))), [])

    def test_confirming_is_asked_only_where_messages_may_go(self) -> None:
        strict = NEWS_TOO.consent[0].model_copy(update={"confirm": True})
        today = NEWS_TOO.model_copy(update={"consent": (strict,)})
        world = World().come(NEWS_TOO.model_copy(update={"consent": ()}), news="on")
        self.assertEqual(words(world.see(today, FACTS)), [])
        self.assertEqual(
            words(world.see(today)),
            ["Open-night news: not on it → pending", "asks to confirm Open-night news"],
        )


class Acts(TestCase):
    START = {"kind": "start_sequence", "sequence": "s-first"}
    SEND = {"kind": "send_now", "message": "m-guide"}

    def test_sequences_start_and_end_only_where_allowed(self) -> None:
        world = World().come(route())
        self.assertEqual(words(world.see(route(self.START), FACTS)), [])
        self.assertEqual(words(world.replay(route(self.START))), ["starts First telescope"])
        self.assertEqual(words(world.see(route(self.START))), [])
        self.assertEqual(words(world.see(route())), ["ends First telescope"])

    def test_what_is_started_and_ended_at_once_is_not_left_running(self) -> None:
        sheet = route(self.START, {"kind": "stop_sequence", "sequence": "s-first"})
        world = World().come(route()).come(route(), days=1)
        found = world.replay(sheet)
        self.assertEqual(words(found), ["starts First telescope", "ends First telescope"])
        self.assertEqual(words(world.see(sheet)), [])

    def test_no_message_goes_twice(self) -> None:
        world = World().come(route(self.SEND))
        again = route(self.SEND, {"kind": "send_now", "message": "m-fits"})
        found = world.replay(again)
        self.assertEqual(words(found), ["sends “Which one fits”"])
        self.assertEqual(found.kept, ("“Your guide” was sent to them before",))
        self.assertEqual(words(world.see(again)), [])

    def test_events_and_tasks_are_made_once(self) -> None:
        sheet = route(
            {"kind": "record_event", "name": "asked"}, {"kind": "make_task", "title": "Call"}
        )
        world = World().come(route())
        self.assertEqual(words(world.replay(sheet)), ["event: asked", "task: Call"])
        self.assertEqual(words(world.see(sheet)), [])
        self.assertEqual(words(World().come(sheet).see(sheet)), [])

    def test_notices_go_once(self) -> None:
        sheet = route({"kind": "notify", "members": ["m-ada"]})
        self.assertEqual(words(World().come(sheet).see(sheet)), [])
        self.assertEqual(words(World().come(route()).see(sheet)), ["tells Ada"])


class TakingBack(TestCase):
    def test_everything_that_stands_is_undone(self) -> None:
        world = World().come(route(MOON), look="moon")
        before = world.person
        world.replay(
            route(
                PLANETS,
                {"kind": "change_score", "by": 3},
                {"kind": "put_field", "field": "f-look", "value": "planets"},
                {"kind": "start_sequence", "sequence": "s-first"},
            )
        )
        assert before and world.person
        self.assertNotEqual(world.person.tags, before.tags)
        world.undo()
        self.assertEqual(
            (world.person.tags, world.person.score, world.person.values, world.person.under_way),
            (before.tags, 0, before.values, frozenset()),
        )
        self.assertEqual(words(world.undo()), [])

    def test_what_was_changed_after_the_replay_stays(self) -> None:
        world = World().come(route()).leave("l-news", CAME)
        sheet = route({"kind": "put_field", "field": "f-first", "value": "Ana"})
        world.replay(sheet)
        world._changed(("field", "first_name"), NOW, "Ana", "Anna", None, None)
        self.assertEqual(words(world.undo()), [])

    def test_who_left_by_a_replay_stays_so(self) -> None:
        world = World(Person(address="ines@example.com", memberships={"l-news": "subscribed"}))
        world.come(route())
        out = {"kind": "change_subscription", "list": "l-news", "direction": "unsubscribe"}
        self.assertEqual(
            words(world.replay(route(out))), ["Open-night news: subscribed → unsubscribed"]
        )
        found = world.undo()
        self.assertEqual(words(found), [])
        self.assertIn("brings nobody back", found.kept[0])

    def test_a_replay_can_be_done_again_after_its_undoing(self) -> None:
        world = World().come(route(MOON))
        sheet = route(PLANETS, {"kind": "change_score", "by": 2})
        first = world.replay(sheet)
        world.undo()
        self.assertEqual(words(world.replay(sheet, name="r2")), words(first))
        self.assertEqual(words(world.see(sheet)), [])


ACTIONS = st.sampled_from(
    [
        MOON,
        PLANETS,
        {"kind": "remove_tags", "tags": ["t-moon", "t-guide"]},
        {"kind": "change_score", "by": 4},
        {"kind": "record_event", "name": "asked"},
        {"kind": "put_field", "field": "f-first", "value": "Ana"},
        {"kind": "put_field", "field": "f-first", "value": ""},
        {"kind": "change_subscription", "list": "l-news", "direction": "subscribe"},
        {"kind": "change_subscription", "list": "l-news", "direction": "unsubscribe"},
        {"kind": "start_sequence", "sequence": "s-first"},
        {"kind": "stop_sequence", "sequence": "s-first"},
        {"kind": "send_now", "message": "m-guide"},
        {"kind": "make_task", "title": "Call"},
        {"kind": "tag_by_answer", "question": "look", "table": [
            {"choice": "moon", "tags": ["t-moon"]}, {"choice": "planets", "tags": ["t-planets"]}]},
    ]
)  # fmt: skip
SHEETS = st.builds(
    lambda actions, consent, mapped: route(*actions, consent=consent).model_copy(
        update={"read_as": ROUTE.read_as if mapped else ROUTE.read_as[:1]}
    ),
    st.lists(ACTIONS, max_size=4),
    st.booleans(),
    st.booleans(),
)
ANSWERS = st.fixed_dictionaries(
    {"look": st.sampled_from(["moon", "planets"]), "news": st.sampled_from(["on", ""])},
    optional={"name": st.sampled_from(["Ana Alba", "Ben"])},
)


class Always(TestCase):
    @given(
        SHEETS,
        st.lists(ANSWERS, min_size=1, max_size=3),
        SHEETS,
        st.sampled_from([EVERYTHING, FACTS, frozenset[Allowed]()]),
    )
    def test_a_second_replay_finds_nothing(
        self,
        then: RouteDocument,
        came: list[dict[str, str]],
        today: RouteDocument,
        allowed: frozenset[Allowed],
    ) -> None:
        world = World()
        for number, answers in enumerate(came):
            world.come(then, days=number, answers=answers)
        world.replay(today, allowed)
        self.assertEqual(words(world.see(today, allowed)), [])

    @given(SHEETS, ANSWERS, SHEETS)
    def test_one_who_left_stays_so(
        self, then: RouteDocument, answers: dict[str, str], today: RouteDocument
    ) -> None:
        world = World().come(then, answers=answers).leave("l-news", CAME + timedelta(days=1))
        world.replay(today)
        assert world.person
        self.assertEqual(world.person.membership("l-news"), "unsubscribed")
        world.undo()
        self.assertEqual(world.person.membership("l-news"), "unsubscribed")

    @given(SHEETS, ANSWERS, SHEETS)
    def test_an_undone_replay_leaves_the_facts_as_they_were(
        self, then: RouteDocument, answers: dict[str, str], today: RouteDocument
    ) -> None:
        world = World().come(then, answers=answers)
        before = world.person
        found = world.replay(today)
        world.undo()
        assert before and world.person
        self.assertEqual(world.person.tags, before.tags)
        self.assertEqual(world.person.values, before.values)
        self.assertEqual(world.person.score, before.score)
        left = any(isinstance(one, Subscribe) and one.to == "unsubscribed" for one in found.effects)
        if not left:
            self.assertEqual(world.person.memberships, before.memberships)


class Words(TestCase):
    def test_every_effect_has_words(self) -> None:
        found = World().come(route(MOON)).see(route(PLANETS, Acts.START, Acts.SEND))
        self.assertEqual(
            words(found),
            ["+ planets", "− moon", "starts First telescope", "sends “Your guide”"],
        )
        because = found.effects[0].because
        event = Event(name="asked", because=because)
        task = Task(title="Call", days=1, member=None, because=because)
        self.assertEqual([event.in_words(), task.in_words()], ["event: asked", "task: Call"])
