"""What happened before: the trail, the replay, evidence and its record."""

from .consent_record import Controller, ListConsent, Proof, consent_record
from .evidence import Broken, Entry, canonical, entry_hash, first_broken
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
    "ListConsent",
    "Proof",
    "Replayed",
    "Scored",
    "Trail",
    "canonical",
    "consent_record",
    "entry_hash",
    "first_broken",
    "mark",
    "replay",
    "take_back",
]
