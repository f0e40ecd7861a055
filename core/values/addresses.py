"""Web addresses (RFC 3986, http and https only), and the parts of a postal address."""

from collections.abc import Mapping
from urllib.parse import urlsplit, urlunsplit

import idna

from ..documents import Problem

POSTAL_PARTS = ("street", "city", "region", "postal_code", "country")
_NEEDED = ("street", "city", "postal_code", "country")
_LONGEST = 2000


def missing_parts(parts: Mapping[str, str], needed: tuple[str, ...] = _NEEDED) -> tuple[str, ...]:
    """The parts of a postal address that are needed and empty; none where it is complete."""
    return tuple(part for part in needed if not parts.get(part, "").strip())


def ascii_domain(name: str) -> str | None:
    """A domain as the DNS has it (IDNA 2008, RFC 5891; upper case and wide letters as UTS 46 says), the same
    for addresses, signatures and web addresses; None where it is none."""
    try:
        return idna.encode(name, uts46=True).decode()
    except (idna.IDNAError, UnicodeError):
        return None


def read_url(text: str) -> str | Problem:
    """The address with its scheme and host in normal form (RFC 3986 6.2.2)."""
    written = text.strip()
    if "://" not in written:
        written = f"https://{written}"
    try:
        parts = urlsplit(written)
        host, port = parts.hostname or "", parts.port
    except ValueError:
        return _not_an_address(text)
    # An address of a number or of one label alone is somebody's own network.
    ascii_host = ascii_domain(host)
    if ascii_host is None:
        return _not_an_address(text)
    plain = parts.scheme.lower() in ("http", "https") and "." in ascii_host
    if not plain or parts.username or parts.password or len(written) > _LONGEST:
        return _not_an_address(text)
    if any(sign.isspace() or not sign.isprintable() for sign in written):
        return _not_an_address(text)
    place = ascii_host.lower() + (f":{port}" if port else "")
    return urlunsplit((parts.scheme.lower(), place, parts.path, parts.query, parts.fragment))


def _not_an_address(text: str) -> Problem:
    return Problem(
        code="not_a_url",
        sentence=f"“{text.strip()[:80]}” is not the address of a web page.",
        fix="Write it like https://example.org/page.",
    )
