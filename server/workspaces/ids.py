"""How rows are named."""

import uuid

import uuid_utils.compat


def new_id() -> uuid.UUID:
    """A UUIDv7: in the order of time, so that big tables grow at one end."""
    return uuid_utils.compat.uuid7()
