"""Structured headers as their grammars say: never an encoded word inside an address or a URL.

Python's email package encodes any token of a header that is longer than a line (RFC 2047). In
a structured header that is forbidden (RFC 2047 5) and no mail program understands it. So these
headers are folded here, at white space alone; a token longer than a line stays whole, which is
legal up to 998 octets (RFC 5322 2.1.1).
"""

import re
from email.header import Header
from email.headerregistry import BaseHeader, HeaderRegistry
from email.policy import SMTP, Policy

from server.workspaces.shapes import Json

_LINE = 78
_DOT_ATOM = re.compile(r"[^\s\"(),.:;<>@\[\\\]]+(?:\.[^\s\"(),.:;<>@\[\\\]]+)*\Z")


class _Structured:
    """A header whose value is finished: it is only folded."""

    max_count = 1

    @classmethod
    def parse(cls, value: str, kwds: Json) -> None:
        """Take the value as it stands."""
        kwds["parse_tree"], kwds["decoded"] = None, value

    def fold(self, *, policy: Policy) -> str:
        """The header with its name, folded at white space."""
        first, *words = str(self).split() or [""]
        # The first word stays beside the name: some programs take an empty line for no value.
        lines, line = [], f"{self.name}: {first}"  # type: ignore[attr-defined]
        for word in words:
            if len(line) + 1 + len(word) > _LINE:
                lines.append(line)
                line = ""
            line += f" {word}"
        return str(policy.linesep.join([*lines, line]) + policy.linesep)


class _Registry(HeaderRegistry):
    """Makes the class of each header once; the one of Python makes it for each header of each message."""

    def __init__(self) -> None:
        super().__init__()
        self._classes: dict[str, type[BaseHeader]] = {}

    def __getitem__(self, name: str) -> type[BaseHeader]:
        made = self._classes.get(name.lower())
        if made is None:
            made = self._classes[name.lower()] = super().__getitem__(name)
        return made


_REGISTRY = _Registry()
for _name in (
    "from",
    "to",
    "reply-to",
    "message-id",
    "list-id",
    "list-unsubscribe",
    "list-unsubscribe-post",
    "auto-submitted",
):
    _REGISTRY.map_to_type(_name, _Structured)  # type: ignore[arg-type]

WIRE = SMTP.clone(header_factory=_REGISTRY)
"""The policy of every message made here (RFC 5322; CRLF)."""
WIRE_UTF8 = WIRE.clone(utf8=True)
"""The same for SMTPUTF8 (RFC 6532): headers in UTF-8."""


def addr_spec(address: str) -> str:
    """The address as RFC 5322 3.4.1 writes it: a local part that is no dot-atom is quoted."""
    local, _, domain = address.rpartition("@")
    if _DOT_ATOM.match(local):
        return address
    return f"{_quoted(local)}@{domain}"


def mailbox(name: str, address: str, *, bare: bool = False) -> str:
    """A display name, in any script, with an address (RFC 5322 3.4, RFC 2047 5 (3)). `bare`: what
    names a list stands in brackets also where it has no name (RFC 2919 3)."""
    name = " ".join(name.split())
    if not name:
        return f"<{address}>" if bare else addr_spec(address)
    shown = _quoted(name) if name.isascii() else _encoded(name)
    return f"{shown} <{address if bare else addr_spec(address)}>"


def needs_utf8(*addresses: str) -> bool:
    """Whether one of the addresses can only be written with SMTPUTF8 (RFC 6531)."""
    return not all(one.isascii() for one in addresses)


def _quoted(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


def _encoded(text: str) -> str:
    """Encoded words of at most 75 characters (RFC 2047 2), apart by white space."""
    return " ".join(Header(text, "utf-8", maxlinelen=75).encode().split())
