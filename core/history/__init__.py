"""What happened before: the trail, the replay, evidence and its record."""

from .consent_record import Controller, ListConsent, Proof, consent_record
from .evidence import (
    Broken,
    Entry,
    Head,
    behind,
    canonical,
    entry_hash,
    first_broken,
    found_hash,
    head_line,
    read_heads,
)
from .replay import Allowed, Chosen, Replayed, mark, replay, take_back
from .trail import Changed, Done, Scored, Trail

__all__ = [
    "Allowed",
    "Broken",
    "Changed",
    "Chosen",
    "Controller",
    "Done",
    "Entry",
    "Head",
    "ListConsent",
    "Proof",
    "Replayed",
    "Scored",
    "Trail",
    "behind",
    "canonical",
    "consent_record",
    "entry_hash",
    "first_broken",
    "found_hash",
    "head_line",
    "mark",
    "read_heads",
    "replay",
    "take_back",
]
