"""Rows of a file that a member uploads."""

from .base import SourceRules


class File(SourceRules):
    """Rows of a file that a member uploads."""

    kind = "file"
    states_consent = True
