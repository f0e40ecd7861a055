"""Rows of a sheet that is looked at again and again."""

from .base import SourceRules


class Sheet(SourceRules):
    """Rows of a sheet that is looked at again and again."""

    kind = "sheet"
