"""JSON as it is stored, sent and received: nothing is known of it before a schema has read it."""

from typing import Any

Json = dict[str, Any]
"""A JSON object."""
