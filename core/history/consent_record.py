"""A consent record of one person: what they agreed to and when, to be signed and handed over.

The fields are those that ISO/IEC TS 27560 names for a consent record, from memory: the record's
header, what is processed for which purpose by whom, the events, and the parties.
"""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from ..documents import Frozen

SCHEMA = "ISO/IEC TS 27560:2023"
EventState = Literal["requested", "given", "refused", "withdrawn", "invalidated"]

_STATES: Mapping[str, EventState] = {
    "pending": "requested",
    "subscribed": "given",
    "unsubscribed": "withdrawn",
    "complained": "withdrawn",
    "bounced": "invalidated",
    "none": "invalidated",
}


class Proof(Frozen):
    """One piece of evidence: a change of a membership, with its place in its chain."""

    at: datetime
    after: str
    wording: str
    page: str
    ip: str | None
    because: str
    number: int
    hash: str


class ListConsent(Frozen):
    """What is known of one person on one list."""

    list_id: str
    name: str
    about: str
    proofs: tuple[Proof, ...]


class Controller(Frozen):
    """Who asked for the consent."""

    name: str
    address: str
    email: str


def event_state(state: str) -> EventState:
    """What a state of a membership is called in a consent record."""
    return _STATES[state]


def consent_record(
    record_id: str,
    principal: str,
    controller: Controller,
    lists: Sequence[ListConsent],
    made: datetime,
) -> dict[str, Any]:
    """The record as JSON; `principal` is the person's address, `made` is aware."""
    party = "controller"
    return {
        "record_header": {
            "schema_version": SCHEMA,
            "record_id": record_id,
            "pii_principal_id": principal,
            "record_time": made.isoformat(),
        },
        "pii_processing": [
            {
                "purpose_id": one.list_id,
                "purpose": one.name,
                "purpose_description": one.about,
                "lawful_basis": "consent",
                "pii_information": ["email address"],
                "pii_controllers": [party],
                "withdrawal_method": "the link in every email",
                "events": [_event(proof, party) for proof in one.proofs],
            }
            for one in lists
        ],
        "party_identification": [
            {
                "party_id": party,
                "party_role": "PII controller",
                "party_name": controller.name,
                "party_address": controller.address,
                "party_email": controller.email,
            }
        ],
    }


def _event(proof: Proof, party: str) -> dict[str, Any]:
    return {
        "event_time": proof.at.isoformat(),
        "event_type": "explicit" if proof.wording else "implicit",
        "event_state": event_state(proof.after),
        "entity_id": party,
        "notice_wording": proof.wording,
        "collection_place": proof.page,
        "collection_address": proof.ip,
        "reason": proof.because,
        "evidence_number": proof.number,
        "evidence_hash": proof.hash,
    }
