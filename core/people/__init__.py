"""People as the rules see them: facts, memberships, time zones, suppression."""

from . import membership
from .cards import Card, vcard
from .facts import (
    Again,
    Catalogue,
    DoorFacts,
    FieldFacts,
    Happened,
    Happening,
    MembershipState,
    Person,
    SequenceFacts,
)
from .membership import (
    ASKED_AGAIN_AFTER,
    CONFIRMED_ALREADY,
    LINK_LASTS,
    LINK_TOO_OLD,
    Left,
    bounced,
    complained,
    confirm,
    may_be_sent_marketing,
    merged,
    subscribe,
    unsubscribe,
)
from .suppression import Entry, domain_of, keys_of, read_entry
from .zones import zone_of

__all__ = [
    "ASKED_AGAIN_AFTER",
    "CONFIRMED_ALREADY",
    "LINK_LASTS",
    "LINK_TOO_OLD",
    "Again",
    "Card",
    "Catalogue",
    "DoorFacts",
    "Entry",
    "FieldFacts",
    "Happened",
    "Happening",
    "Left",
    "MembershipState",
    "Person",
    "SequenceFacts",
    "bounced",
    "complained",
    "confirm",
    "domain_of",
    "keys_of",
    "may_be_sent_marketing",
    "membership",
    "merged",
    "read_entry",
    "subscribe",
    "unsubscribe",
    "vcard",
    "zone_of",
]
