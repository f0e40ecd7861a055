"""What a mail server's refusal says: whether the address is at fault, or something else.

RFC 5321 4.2 for the reply codes, RFC 3463 for the enhanced ones (class 5 is permanent; X.1 is
about the address, X.2.1 a mailbox that is off). A policy that refuses a message (X.7) or its
content (X.6) says nothing against the address.
"""

import re

_REPLY = re.compile(r"^(?P<code>[45]\d\d)[ -]+(?:(?P<enhanced>[245]\.\d{1,3}\.\d{1,3})\b)?")
_ADDRESS_CODES = ("550", "551", "553")
"""Permanent replies about the mailbox itself, where no enhanced code says more."""


def refuses_address(reply: str) -> bool:
    """Whether `reply`, as the mail server gave it, says for good that the address is no good."""
    found = _REPLY.match(reply.strip())
    if found is None or not found["code"].startswith("5"):
        return False
    enhanced = found["enhanced"]
    if enhanced is None:
        return found["code"] in _ADDRESS_CODES
    kind, subject, detail = enhanced.split(".")
    return kind == "5" and ((subject == "1" and detail not in ("7", "8")) or enhanced == "5.2.1")
