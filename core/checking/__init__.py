"""What is said of a sheet before it is turned on: pre-flight, differences, uses, references."""

from .portable import FORM, Portable, Reference, packed, unpacked
from .route_changes import broken_by
from .route_check import check_route
from .route_difference import RuleWords, differences, rules_in_words
from .uses import uses_of_route, uses_of_sequence

__all__ = [
    "FORM",
    "Portable",
    "Reference",
    "RuleWords",
    "broken_by",
    "check_route",
    "differences",
    "packed",
    "rules_in_words",
    "unpacked",
    "uses_of_route",
    "uses_of_sequence",
]
