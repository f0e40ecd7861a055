"""Signing emails for their domain (DKIM), and looking whether its DNS lets receivers check it."""

import base64
from collections.abc import Callable
from functools import lru_cache
from uuid import UUID

import dkim
import dns.exception
import dns.resolver
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from cryptography.hazmat.primitives.asymmetric.rsa import RSAPrivateKey, generate_private_key
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    PublicFormat,
    load_pem_private_key,
)
from django.conf import settings
from django.db import transaction

from core.messages import DnsLine, SendingFacts, looked_at, records_needed, signs_well
from core.values import ascii_domain
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import OWNERS, changes
from server.workspaces.models import Workspace
from server.workspaces.sealing import opened, sealed

from .models import SendingDomain

Signer = Callable[[bytes], bytes]
_SIGNED = [
    b"From", b"From", b"To", b"Subject", b"Date", b"Message-ID", b"Reply-To", b"List-Id",
    b"List-Unsubscribe", b"List-Unsubscribe-Post", b"MIME-Version", b"Content-Type",
]  # fmt: skip
"""From stands twice, so that nobody adds another one (RFC 6376 8.15)."""


@changes("added the sending domain {domain}", roles=OWNERS)
def add_domain(workspace: Workspace, domain: str) -> SendingDomain:
    """Make the keys of a domain that the workspace sends from."""
    name = _domain(domain)
    if SendingDomain.objects.of(workspace).filter(domain=name).exists():
        raise refuse("domain_there", "domain", f"{name} is there already.")
    now = clock.now(workspace)
    row = SendingDomain.everywhere.create(
        workspace=workspace,
        domain=name,
        selector=f"y{now:%Y%m}",
        rsa_key=sealed(_new_rsa()),
        ed_key=sealed(_new_ed()),
        found=[],
        made_at=now,
    )
    catalogue_changed(workspace)
    return row


def _domain(text: str) -> str:
    name = text.strip().rstrip(".").lower().removeprefix("@")
    ascii_name = ascii_domain(name) or ""
    labels = ascii_name.split(".")
    good = len(labels) > 1 and all(
        label and label.replace("-", "").isalnum() and not label.startswith("-") for label in labels
    )
    if not good or len(ascii_name) > 253:
        raise refuse(
            "not_a_domain", "domain", f"“{text[:80]}” is no domain.", "Write it as in example.org."
        )
    return ascii_name


def _new_rsa() -> str:
    # 2048 bits: what RFC 8301 3.2 asks of signers; longer keys do not fit many DNS hosts' forms.
    key = generate_private_key(public_exponent=65537, key_size=2048)
    return key.private_bytes(
        Encoding.PEM, PrivateFormat.TraditionalOpenSSL, NoEncryption()
    ).decode()


def _new_ed() -> str:
    seed = Ed25519PrivateKey.generate().private_bytes(
        Encoding.Raw, PrivateFormat.Raw, NoEncryption()
    )
    return base64.b64encode(seed).decode()


@changes("removed the sending domain {row.domain}", roles=OWNERS)
def remove_domain(row: SendingDomain) -> None:
    """Take a domain and its keys away; emails from it are no longer signed."""
    workspace = row.workspace
    with transaction.atomic():
        row.delete()
        catalogue_changed(workspace)


@changes("turned {word} signing for {row.domain}", roles=OWNERS)
def set_signing(row: SendingDomain, on: bool, word: str = "") -> SendingDomain:
    """Sign emails from the domain, or no longer; only once its key is found in the DNS."""
    if on and not signs_well(lines_of(row)):
        raise Refused(
            "Receivers cannot find the key yet, and would take signed emails for forged. Publish the "
            "first record, and check again."
        )
    row.signs = on
    row.save(update_fields=["signs"])
    catalogue_changed(row.workspace)
    return row


def facts_of(row: SendingDomain) -> SendingFacts:
    """What the records of a domain are made of."""
    rsa = load_pem_private_key(opened(row.rsa_key).encode(), None)
    assert isinstance(rsa, RSAPrivateKey)
    ed = Ed25519PrivateKey.from_private_bytes(base64.b64decode(opened(row.ed_key)))
    return SendingFacts(
        domain=row.domain,
        selector=row.selector,
        rsa_public=base64.b64encode(
            rsa.public_key().public_bytes(Encoding.DER, PublicFormat.SubjectPublicKeyInfo)
        ).decode(),
        ed_public=base64.b64encode(
            ed.public_key().public_bytes(Encoding.Raw, PublicFormat.Raw)
        ).decode(),
        relay=settings.EMAIL_HOST,
        return_domain=settings.RETURN_DOMAIN,
    )


def lines_of(row: SendingDomain) -> list[DnsLine]:
    """The records of a domain, with what the last look found."""
    if row.found:
        return [DnsLine.model_validate(one) for one in row.found]
    return records_needed(facts_of(row))


@changes("checked the records of {row.domain}")
def look_up(row: SendingDomain) -> SendingDomain:
    """Look at the DNS now; what was signed before stays signed."""
    facts = facts_of(row)
    answers: dict[tuple[str, str], list[str] | None] = {
        (line.name, line.type): _records(line.name, line.type) for line in records_needed(facts)
    }
    row.found = [one.model_dump(mode="json") for one in looked_at(facts, answers)]
    row.checked_at = clock.now(row.workspace)
    row.save(update_fields=["found", "checked_at"])
    return row


def _records(name: str, kind: str) -> list[str] | None:
    resolver = dns.resolver.Resolver(configure=not settings.NAMESERVER)
    if settings.NAMESERVER:
        host, _, port = settings.NAMESERVER.rpartition(":")
        resolver.nameservers, resolver.port = [host], int(port)
    resolver.lifetime = 5.0
    try:
        found = resolver.resolve(name, kind)
    except (dns.resolver.NXDOMAIN, dns.resolver.NoAnswer):
        return []
    except (dns.exception.DNSException, OSError):
        return None
    if kind == "TXT":
        return [b"".join(one.strings).decode("utf-8", "replace") for one in found]
    return [one.to_text() for one in found]


def signer_for(workspace: Workspace, domain: str) -> Signer | None:
    """Signs emails from a domain; None where it does not sign."""
    return _signer(workspace.pk, workspace.catalogue_version, domain.lower())


@lru_cache(maxsize=64)
def _signer(workspace_id: UUID, version: UUID, domain: str) -> Signer | None:
    row = (
        SendingDomain.objects.of(Workspace(pk=workspace_id))
        .filter(domain=domain, signs=True)
        .first()
    )
    if row is None:
        return None
    rsa, ed = opened(row.rsa_key).encode(), opened(row.ed_key).encode()
    selector, name = row.selector.encode(), domain.encode()

    def sign(message: bytes) -> bytes:
        names = _present(message)
        signatures = b""
        for key, where, how in (
            (ed, selector + b"-ed", b"ed25519-sha256"),
            (rsa, selector, b"rsa-sha256"),
        ):
            signatures += dkim.sign(
                message,
                where,
                name,
                key,
                canonicalize=(b"relaxed", b"relaxed"),
                include_headers=names,
                signature_algorithm=how,
            )
        return signatures + message

    return sign


def _present(message: bytes) -> list[bytes]:
    """The headers to sign of those that the message has."""
    head = message.split(b"\r\n\r\n", 1)[0].lower()
    there = {line.split(b":", 1)[0] for line in head.split(b"\r\n") if line[:1] not in b" \t"}
    return [name for name in _SIGNED if name.lower() in there]
