"""The difference of two revisions of a sequence, as sentences."""

from unittest import TestCase

from core.delivering import Duration
from core.people import Catalogue
from core.sequences import (
    EmailSender,
    Lane,
    SendStep,
    SequenceDocument,
    Step,
    WaitStep,
    differences,
)

CATALOGUE = Catalogue(
    lists={"l-news": "News", "l-club": "Club"}, messages={"m-guide": "Your guide", "m-fits": "Fits"}
)
GUIDE = SendStep(id="s1", message="m-guide", at_once=True)
DAY = WaitStep(id="w1", duration=Duration(amount=1, unit="days"))
FITS = SendStep(id="s2", message="m-fits")


def sequence(
    *steps: Step, of: str | None = "l-news", more: tuple[Lane, ...] = ()
) -> SequenceDocument:
    return SequenceDocument(list=of, lanes=(Lane(id="a", steps=steps), *more))


BEFORE = sequence(GUIDE, DAY, FITS)


def changed(after: SequenceDocument) -> tuple[str, ...]:
    return differences(BEFORE, after, CATALOGUE)


class Differences(TestCase):
    def test_nothing_changed(self) -> None:
        self.assertEqual(changed(BEFORE), ())

    def test_steps_by_their_place(self) -> None:
        longer = DAY.model_copy(update={"duration": Duration(amount=2, unit="weeks")})
        later = WaitStep(id="w2", duration=Duration(amount=6, unit="hours"))
        self.assertEqual(
            changed(sequence(GUIDE.model_copy(update={"at_once": False}), longer, later)),
            (
                "step 3 taken out: send “Fits”",
                "step 1: send “Your guide”, at once → send “Your guide”",
                "step 2: wait 1 day → wait 2 weeks",
                "step 3 added: wait 6 hours",
            ),
        )

    def test_another_order_and_another_list(self) -> None:
        self.assertEqual(
            changed(sequence(FITS, DAY, GUIDE, of="l-club")),
            ("its emails belong to Club (before: News)", "the steps stand in another order"),
        )

    def test_who_the_emails_are_from(self) -> None:
        own = EmailSender(name="Noor", reply_to="desk@larkmoor.example")
        after = BEFORE.model_copy(update={"sender": own})
        said = "Noor, replies to desk@larkmoor.example"
        self.assertEqual(changed(after), (f"sender: {said} (before: as the list says)",))

    def test_what_is_gone_and_what_is_not_chosen(self) -> None:
        gone = SendStep(id="s3", message="m-old")
        none = SendStep(id="s4")
        self.assertEqual(
            changed(sequence(GUIDE, DAY, FITS, gone, none, of=None))[1:],
            ("step 4 added: send “a message that is gone”", "step 5 added: send no message yet"),
        )

    def test_lanes(self) -> None:
        two = sequence(GUIDE, DAY, FITS, more=(Lane(id="b", name="B", steps=(DAY,)),))
        self.assertEqual(changed(two), ("lane added: B", "lane B, step 1 added: wait 1 day"))
        self.assertEqual(differences(two, BEFORE, CATALOGUE), ("lane taken out: B",))
