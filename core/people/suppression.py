"""The suppression list: addresses and domains that get no marketing, whatever a rule says."""

from typing import Literal

from ..documents import Frozen, Problem
from ..values import address_key, read_email


class Entry(Frozen):
    """One entry: an address, or a whole domain."""

    kind: Literal["address", "domain"]
    key: str


def read_entry(text: str) -> Entry | Problem:
    """An address, or a domain written as example.org or @example.org."""
    written = text.strip()
    if "@" not in written.removeprefix("@"):
        probe = read_email(f"x@{written.removeprefix('@')}")
        if isinstance(probe, Problem) or "." not in probe:
            return Problem(
                code="not_an_entry",
                sentence=f"“{written[:80]}” is neither an address nor a domain.",
                fix="Write it like ines@example.org, or @example.org for a whole domain.",
            )
        return Entry(kind="domain", key=domain_of(probe))
    address = read_email(written)
    if isinstance(address, Problem):
        return address
    return Entry(kind="address", key=address_key(address))


def domain_of(address: str) -> str:
    """The domain of an address, as the list compares it."""
    return address_key(address).rpartition("@")[2]


def keys_of(address: str) -> tuple[str, str]:
    """What an address is looked up by: itself, and its domain."""
    return address_key(address), domain_of(address)
