"""What is said of a sheet before it is turned on: pre-flight, differences, uses, references."""

from .portable import FORM, Portable, Reference, packed, unpacked
from .route_changes import broken_by
from .route_check import check_route
from .route_difference import differences
from .uses import uses_of_route, uses_of_sequence

__all__ = [
    "FORM",
    "Portable",
    "Reference",
    "broken_by",
    "check_route",
    "differences",
    "packed",
    "unpacked",
    "uses_of_route",
    "uses_of_sequence",
]
