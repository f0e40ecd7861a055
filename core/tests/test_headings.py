"""What the cards of steps say: a verb as their title, and what it is about."""

from datetime import time
from unittest import TestCase

from core.conditions import Group, TagTest
from core.deciding import AddTags, ChangeScore, ChangeSubscription, RemoveTags
from core.delivering import Duration
from core.people import Catalogue
from core.sequences import (
    ActStep,
    ChanceBranch,
    ChanceStep,
    Lane,
    SendStep,
    SequenceDocument,
    SplitBranch,
    SplitStep,
    Step,
    StopStep,
    WaitConditionStep,
    WaitStep,
    WaitTimeStep,
    headings,
    in_words,
)

HERE = Catalogue(messages={"m": "Your guide"}, tags={"t": "moon"}, lists={"l": "News"})
MOON = Group(of=(TagTest(tag="t"),))
WEEK = Duration(amount=7, unit="days")
EXPECTED: tuple[tuple[Step, str, str], ...] = (
    (SendStep(id="1", message="m", at_once=True), "Send", "“Your guide”"),
    (WaitStep(id="2", duration=WEEK), "Wait", "7 days"),
    (WaitTimeStep(id="3", at=time(10)), "Wait", "until at 10:00"),
    (
        WaitConditionStep(id="4", when=MOON, at_most=WEEK),
        "Wait",
        "until has the tag moon, at most 7 days",
    ),
    (SplitStep(id="5", of=(SplitBranch(id="b", when=MOON),)), "Split", "has the tag moon?"),
    (SplitStep(id="6"), "Split", "no condition yet"),
    (ChanceStep(id="7", of=(ChanceBranch(id="c", name="A"),)), "Split", "by chance"),
    (StopStep(id="8"), "Stop", ""),
    (ActStep(id="9", action=AddTags(tags=("t",))), "Tag", "moon"),
    (ActStep(id="10", action=RemoveTags(tags=("t",))), "Remove", "the tags moon"),
    (ActStep(id="11", action=ChangeScore(by=5)), "Add", "5 to the score"),
    (
        ActStep(id="12", action=ChangeSubscription(direction="unsubscribe", list="l")),
        "Unsubscribe",
        "from News",
    ),
)


class Headings(TestCase):
    def test_a_verb_and_what_it_is_about(self) -> None:
        steps = tuple(step for step, _, _ in EXPECTED)
        sequence = SequenceDocument(lanes=(Lane(id="a", steps=steps),))
        found, sentences = headings(sequence, HERE), in_words(sequence, HERE)
        for step, verb, rest in EXPECTED:
            with self.subTest(step.id):
                self.assertEqual((found[step.id].verb, found[step.id].rest), (verb, rest))
                self.assertEqual(found[step.id].sentence, sentences[step.id])
