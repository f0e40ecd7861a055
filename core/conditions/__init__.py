"""Conditions: one language for routes, splits, doors, goals and audiences.

Missing is a value of its own: "is not" and "does not contain" hold for a missing value; "is", "contains" and comparisons of
size do not. Text is compared without case and accents unless asked otherwise, dates in the person's time zone.
"""

from .document import (
    AMOUNT,
    DEEPEST,
    AnswerTest,
    Comparison,
    Condition,
    FieldTest,
    FrozenTest,
    Group,
    HappenedTest,
    MembershipTest,
    RunTest,
    ScoreTest,
    SourceTest,
    TagTest,
    comparisons_of,
    days_of,
    is_gone,
    iso_date,
    leaves,
    number_of,
)
from .holding import Circumstances, holds
from .parsed import Parsed, ParseProblem, Proposed
from .parsing import LONGEST_SENTENCE, parse, propose
from .words import Explained, explain, say

__all__ = [
    "AMOUNT",
    "DEEPEST",
    "LONGEST_SENTENCE",
    "AnswerTest",
    "Circumstances",
    "Comparison",
    "Condition",
    "Explained",
    "FieldTest",
    "FrozenTest",
    "Group",
    "HappenedTest",
    "MembershipTest",
    "ParseProblem",
    "Parsed",
    "Proposed",
    "RunTest",
    "ScoreTest",
    "SourceTest",
    "TagTest",
    "comparisons_of",
    "days_of",
    "explain",
    "holds",
    "is_gone",
    "iso_date",
    "leaves",
    "number_of",
    "parse",
    "propose",
    "say",
]
