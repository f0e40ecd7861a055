"""What pre-flight of a sequence says of doors, zones, goals and counting, by the world around it."""

from dataclasses import replace
from datetime import time
from typing import Any
from unittest import TestCase

from core.conditions import Group, HappenedTest
from core.delivering import Duration, SendingTimes
from core.messages import Counts
from core.sequences import (
    ByHandDoor,
    ClickDoor,
    Goal,
    Lane,
    ListReaders,
    RouteDoor,
    SendStep,
    SequenceDocument,
    SplitBranch,
    SplitStep,
    Surroundings,
    TagDoor,
    WaitStep,
    Way,
    check_sequence,
)
from core.tests.observatory import CATALOGUE

AROUND = Surroundings(CATALOGUE, {}, "noor@larkmoor.example", "Moor Lane 1, Larkmoor")
DAY = Duration(amount=1, unit="days")
CLICKED = Group(of=(HappenedTest(what="clicked", about="m-guide"),))


def document(**change: Any) -> SequenceDocument:
    lane = Lane(id="a", name="A", steps=(SendStep(id="s1", message="m-guide"),))
    made = SequenceDocument(list="l-news", again="once_only", lanes=(lane,))
    return made.model_copy(update=change)


class Lookout(TestCase):
    def found(self, sequence: SequenceDocument, **around: Any) -> list[tuple[str, str]]:
        findings = check_sequence(sequence, replace(AROUND, **around))
        self.assertFalse([one for one in findings if one.stops], findings)
        return [(one.code, one.place) for one in findings]

    def test_nobody_comes_in(self) -> None:
        route = RouteDoor(id="r", lane="a")
        tag = TagDoor(id="t", lane="a", tag=next(iter(CATALOGUE.tags)))
        closed = tag.model_copy(update={"open": False})
        hand = ByHandDoor(id="h", lane="a")
        nobody = [("no_door", "doors")]
        for doors, started, expected in (
            ((), frozenset(), nobody),
            ((closed,), frozenset(), nobody),
            ((route,), frozenset(), nobody),
            ((), frozenset("a"), []),
            ((tag,), frozenset(), []),
            ((hand,), frozenset(), []),
            ((route,), frozenset("a"), []),
            ((route, tag), frozenset(), [("door_unopened", "r")]),
            ((route,), frozenset("b"), [("door_unopened", "r")]),
            # It is not known who starts it.
            ((), None, []),
        ):
            with self.subTest(doors=[one.id for one in doors], started=started):
                self.assertEqual(self.found(document(doors=doors), started_at=started), expected)

    def test_their_own_time_where_it_is_known_of_nobody(self) -> None:
        unknown = ListReaders(
            people=1_200, with_zone=0, workspace_zone="Europe/London", asks_zone=False
        )
        office = SendingTimes(weekdays=(1, 2), begins=time(9), ends=time(17))
        for readers, times, expected in (
            (unknown, office, [("zones_unknown", "times")]),
            (unknown, SendingTimes(), []),
            (replace(unknown, with_zone=1), office, []),
            (replace(unknown, people=0), office, []),
            (None, office, []),
        ):
            found = self.found(document(times=times), readers=readers)
            self.assertEqual(found, expected, (readers, times))
        said = check_sequence(document(times=office), replace(AROUND, readers=unknown))[0]
        self.assertIn("1,200 people", said.sentence)
        self.assertIn("a setting of the workspace", said.fix)

    def test_a_goal_that_leads_back(self) -> None:
        first = Lane(
            id="a",
            name="A",
            steps=(
                SendStep(id="s1", message="m-guide"),
                WaitStep(id="w", duration=DAY),
                SendStep(id="s2", message="m-fits"),
            ),
        )
        onward = first.model_copy(update={"then": Way(to="lane", lane="b")})
        second = Lane(id="b", name="B", steps=(SendStep(id="s3", message="m-guide"),))
        for begin, lane, step, expected in (
            (first, "a", None, True),
            (first, "a", "s2", True),
            (first, "b", None, False),
            # Who has come to B by the end of A is led back to its beginning.
            (onward, "b", None, True),
        ):
            goal = Goal(id="g", event="bought", then=Way(to="lane", lane=lane, step=step))
            made = document(lanes=(begin, second), goals=(goal,))
            led_back = ("goal_leads_back", "g") in self.found(made)
            self.assertEqual(led_back, expected, (lane, step))

    def test_clicks_that_are_not_counted(self) -> None:
        split = SplitStep(id="x", of=(SplitBranch(id="y", name="clicked", when=CLICKED),))
        asked = document(
            doors=(ClickDoor(id="c", lane="a", link="/shop"),),
            lanes=(Lane(id="a", steps=(split, SendStep(id="s1", message="m-guide"))),),
            goals=(Goal(id="g", when=CLICKED),),
        )
        off, on = Counts(opens=False, clicks=False), Counts(opens=False, clicks=True)
        for counts, expected in (
            (None, []),
            ({"": on}, []),
            ({"": off}, ["c", "x", "g"]),
            ({"": on, "m-guide": off}, ["x", "g"]),
            ({"": off, "m-guide": on}, ["c"]),
        ):
            found = self.found(asked, counts=counts)
            self.assertEqual([one for code, one in found if code == "not_counted"], expected)
