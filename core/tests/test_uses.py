"""What documents do with what they name."""

from unittest import TestCase

from core.checking import uses_of_route, uses_of_sequence
from core.sequences import Lane, SendStep, SequenceDocument
from core.tests.observatory import ROUTE
from core.tests.test_rules import route


class Uses(TestCase):
    def test_of_a_route(self) -> None:
        found = [(one.id, one.how) for one in uses_of_route(ROUTE)]
        self.assertEqual(
            found,
            [
                ("l-news", "fills"),
                ("t-guide", "fills"),
                ("t-moon", "fills"),
                ("t-planets", "fills"),
                ("s-first", "starts"),
            ],
        )

    def test_a_line_that_asks_for_a_confirmation_says_so(self) -> None:
        [line] = ROUTE.consent
        confirms = ROUTE.model_copy(
            update={"consent": (line.model_copy(update={"confirm": True}),), "then": ()}
        )
        self.assertEqual(
            [(one.id, one.how) for one in uses_of_route(confirms)],
            [("l-news", "fills"), ("l-news", "confirms")],
        )

    def test_of_every_action_and_condition(self) -> None:
        sheet = route(
            {"kind": "remove_tags", "tags": ["t-moon"]},
            {"kind": "change_subscription", "list": "l-news", "direction": "by_answer"},
            {"kind": "stop_sequence", "sequence": "s-first"},
            {"kind": "send_now", "message": "m-guide", "list": "l-news"},
            {
                "kind": "change_score",
                "by": 1,
                "when": {
                    "of": [
                        {"kind": "tag", "tag": "t-guide"},
                        {"kind": "membership", "list": "l-news", "states": ["subscribed"]},
                        {"kind": "run", "sequence": "s-first"},
                        {"kind": "frozen", "group": "g-march"},
                    ]
                },
            },
        )
        found = {(one.id, one.how) for one in uses_of_route(sheet)}
        self.assertEqual(
            found,
            {
                ("t-moon", "takes"),
                ("l-news", "fills"),
                ("l-news", "takes"),
                ("s-first", "ends"),
                ("m-guide", "sends"),
                ("l-news", "belongs to"),
                ("t-guide", "looks at"),
                ("l-news", "looks at"),
                ("s-first", "looks at"),
                ("g-march", "looks at"),
            },
        )

    def test_of_a_sequence(self) -> None:
        steps = (SendStep(id="s1", message="m-guide"), SendStep(id="s2", message=None))
        document = SequenceDocument(list="l-news", lanes=(Lane(id="a", name="A", steps=steps),))
        found = [(one.id, one.how) for one in uses_of_sequence(document)]
        self.assertEqual(found, [("l-news", "belongs to"), ("m-guide", "sends")])
