"""What every document of the core is made of: frozen models, problems, findings, causes."""

from .base import Finding, Frozen, How, Problem, Use, value
from .because import Because
from .cleaning import DEEPEST, TooDeep, clean, cleaned, first_unclean, is_clean, read_json
from .colours import LEAST_FOR_TEXT, contrast, readable_on
from .difference import changed_lines, other_order
from .folding import bare_name, folded, near_miss
from .invalid import invalid_in_words

__all__ = [
    "DEEPEST",
    "LEAST_FOR_TEXT",
    "Because",
    "Finding",
    "Frozen",
    "How",
    "Problem",
    "TooDeep",
    "Use",
    "bare_name",
    "changed_lines",
    "clean",
    "cleaned",
    "contrast",
    "first_unclean",
    "folded",
    "invalid_in_words",
    "is_clean",
    "near_miss",
    "other_order",
    "read_json",
    "readable_on",
    "value",
]
