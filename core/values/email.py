"""Email addresses: WHATWG HTML "valid email address"; RFC 5321 4.5.3.1 lengths; RFC 6531."""

import re
import unicodedata

from email_validator import EmailNotValidError, validate_email

from ..documents import Problem

# The pattern that the WHATWG HTML standard gives for <input type=email>.
_WHATWG = re.compile(
    r"[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?"
    r"(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*"
)
_LOCAL_OCTETS = 64
_PATH_OCTETS = 254


def read_email(text: str) -> str | Problem:
    """The address: trimmed, NFC, the domain in lower case and IDNA, the local part as given."""
    address = unicodedata.normalize("NFC", text).strip()
    if not address.isascii():
        # It stands for bytes that could not be read, and is in nobody's address.
        if "\ufffd" in address:
            return _not_an_address(text)
        try:
            found = validate_email(
                address,
                check_deliverability=False,
                globally_deliverable=False,
                allow_smtputf8=True,
            )
        except (EmailNotValidError, ValueError):
            return _not_an_address(text)
        address = f"{found.local_part}@{found.ascii_domain}"
    elif not _WHATWG.fullmatch(address):
        return _not_an_address(text)
    local, _, domain = address.rpartition("@")
    if len(local.encode()) > _LOCAL_OCTETS or len(address.encode()) > _PATH_OCTETS:
        return Problem(
            code="email_too_long",
            sentence="This address is longer than mail allows.",
            fix="Check it for something pasted twice.",
        )
    return f"{local}@{domain.lower()}"


def address_key(address: str) -> str:
    """What makes two addresses the same subscriber: the address without its case."""
    return address.casefold()


def _not_an_address(text: str) -> Problem:
    shown = text.strip()
    if "@" not in shown:
        fix = "An address has an @ sign, like name@example.com."
    elif " " in shown:
        fix = "Take out the space."
    else:
        fix = "Check it for a missing part or a wrong sign: name@example.com."
    return Problem(code="not_an_email", sentence="This is not an email address.", fix=fix)
