"""Calls of another program."""

from .base import SourceRules


class Webhook(SourceRules):
    """Calls of another program."""

    kind = "webhook"
