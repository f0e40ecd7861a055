"""Consent records signed with the server's own key: JSON Web Signature (RFC 7515) with Ed25519
(RFC 8037). Whoever gets one can check it by the keys at `/.well-known/jwks.json` (RFC 7517)."""

from base64 import urlsafe_b64encode
from hashlib import sha256

import jwt
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from django.conf import settings
from django.http import HttpRequest, JsonResponse

from core.history import Controller, ListConsent, Proof, canonical, consent_record
from server.workspaces import clock
from server.workspaces.ids import new_id
from server.workspaces.shapes import Json

from .models import Evidence, Subscriber

TYPE = "consent-record+jws"


def signed_record(subscriber: Subscriber) -> str:
    """The person's consent record as a compact JWS."""
    workspace = subscriber.workspace
    controller = Controller(
        name=workspace.sender_name or workspace.name,
        address=workspace.postal_address,
        email=workspace.sender_address,
    )
    record = consent_record(
        str(new_id()),
        subscriber.address,
        controller,
        _lists(subscriber),
        clock.now(workspace),
    )
    return signed(record, TYPE)


def signed(record: Json, kind: str) -> str:
    """A record as a compact JWS, by the newest key; `kind`: its `typ`."""
    key = _keys()[0]
    headers = {"kid": _public(key)["kid"], "typ": kind}
    return jwt.encode(record, key, algorithm="EdDSA", headers=headers)


def _lists(subscriber: Subscriber) -> list[ListConsent]:
    rows = subscriber.memberships.select_related("list").prefetch_related("evidence")
    return [
        ListConsent(
            list_id=str(one.list_id),
            name=one.list.shown_name,
            about=one.list.description,
            proofs=tuple(
                _proof(proof)
                for proof in sorted(one.evidence.all(), key=lambda row: (row.at, row.number))
            ),
        )
        for one in rows.order_by("list__folded")
    ]


def _proof(row: Evidence) -> Proof:
    return Proof(
        at=row.at,
        after=row.after,
        wording=row.wording,
        page=row.page,
        ip=row.ip,
        because=row.because.get("sentence", ""),
        number=row.number,
        hash=row.hash,
    )


def jwks(request: HttpRequest) -> JsonResponse:
    """The public keys, the newest first; older ones stay, so that old records can be checked."""
    return JsonResponse({"keys": [_public(key) for key in _keys()]})


def _keys() -> list[Ed25519PrivateKey]:
    return [_key(secret) for secret in settings.SIGNING_KEYS]


def _key(secret: str) -> Ed25519PrivateKey:
    """A signing key from a secret (HKDF, RFC 5869)."""
    derive = HKDF(algorithm=hashes.SHA256(), length=32, salt=None, info=b"yalla.consent-record")
    return Ed25519PrivateKey.from_private_bytes(derive.derive(secret.encode()))


def _public(key: Ed25519PrivateKey) -> Json:
    """A public key as a JWK, named by its thumbprint (RFC 7638)."""
    raw = key.public_key().public_bytes(serialization.Encoding.Raw, serialization.PublicFormat.Raw)
    needed = {"crv": "Ed25519", "kty": "OKP", "x": _base64(raw)}
    return {
        **needed,
        "use": "sig",
        "alg": "EdDSA",
        "kid": _base64(sha256(canonical(needed)).digest()),
    }


def _base64(data: bytes) -> str:
    return urlsafe_b64encode(data).decode().rstrip("=")
