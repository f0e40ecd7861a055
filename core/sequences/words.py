"""A sequence's parts in words, by their ids: as the sheet shows what is not open for editing."""

from ..people import Catalogue
from .difference import goal_in_words, leaving_in_words, times_in_words
from .document import SequenceDocument
from .steps.base import Heading


def headings(sequence: SequenceDocument, catalogue: Catalogue) -> dict[str, Heading]:
    """Every step by its id: what it does, and with what."""
    return {step.id: step.heading(catalogue) for step in sequence.steps}


def in_words(sequence: SequenceDocument, catalogue: Catalogue) -> dict[str, str]:
    """Every step, door and goal in words, and how people leave and when emails go, as "leaving" and
    "times"."""
    found = {step.id: step.heading(catalogue).sentence for step in sequence.steps}
    found |= {door.id: door.named(catalogue) for door in sequence.doors}
    found |= {goal.id: goal_in_words(goal, catalogue) for goal in sequence.goals}
    found["leaving"] = leaving_in_words(sequence.leaving, catalogue)
    found["times"] = times_in_words(sequence.times)
    return found
