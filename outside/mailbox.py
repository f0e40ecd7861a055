"""Inboxes: each email as the mail server received it, one .eml file beside its envelope."""

import json
import re
import time
from dataclasses import dataclass
from email import message_from_bytes, policy
from email.message import EmailMessage
from email.utils import parseaddr, parsedate_to_datetime
from pathlib import Path

_NAME = re.compile(r"[0-9]+-[0-9]+\Z")


@dataclass(frozen=True)
class Received:
    """One email: its name, its envelope, and the bytes as they came."""

    name: str
    sender: str
    recipients: tuple[str, ...]
    content: bytes

    @property
    def message(self) -> EmailMessage:
        return message_from_bytes(self.content, policy=policy.default)

    @property
    def sender_name(self) -> str:
        """Who it is from, as a list of emails shows it."""
        name, address = parseaddr(str(self.message.get("From", "")))
        return name or address

    @property
    def day(self) -> str:
        """When it was sent: 4 Dec 2026."""
        try:
            sent = parsedate_to_datetime(str(self.message.get("Date", "")))
        except ValueError:
            return ""
        return f"{sent.day} {sent:%b %Y}"

    @property
    def begins(self) -> str:
        """The first words, as a list of emails shows them."""
        return " ".join(self.part("plain").split())[:120]

    def part(self, kind: str) -> str:
        """The text of the part "html" or "plain", or nothing."""
        found = self.message.get_body(preferencelist=(kind,))
        return str(found.get_content()) if found else ""


class Mailbox:
    """All inboxes, in one folder."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        self._number = 0

    def keep(self, sender: str, recipients: list[str], content: bytes) -> None:
        """Store one email; the envelope last, so that half an email is never seen."""
        self._number += 1
        name = f"{time.time_ns()}-{self._number}"
        (self.folder / f"{name}.eml").write_bytes(content)
        envelope = {"sender": sender, "recipients": recipients}
        # In one step: whoever lists the inbox meanwhile reads no half of it.
        part = self.folder / f"{name}.part"
        part.write_text(json.dumps(envelope))
        part.rename(self.folder / f"{name}.json")

    def list(self, address: str = "") -> list[Received]:
        """The emails to an address (or all), the newest first."""
        found = (self.get(file.stem) for file in sorted(self.folder.glob("*.json"), reverse=True))
        wanted = address.casefold()
        return [
            one
            for one in found
            if one and (not wanted or wanted in (to.casefold() for to in one.recipients))
        ]

    def counts(self) -> dict[str, int]:
        """How many emails each address has."""
        found: dict[str, int] = {}
        for file in self.folder.glob("*.json"):
            for address in json.loads(file.read_text())["recipients"]:
                found[address] = found.get(address, 0) + 1
        return found

    def get(self, name: str) -> Received | None:
        """One email by its name."""
        file = self.folder / f"{name}.json"
        if not _NAME.match(name) or not file.is_file():
            return None
        envelope = json.loads(file.read_text())
        return Received(
            name=name,
            sender=envelope["sender"],
            recipients=tuple(envelope["recipients"]),
            content=(self.folder / f"{name}.eml").read_bytes(),
        )

    def empty(self) -> None:
        """Throw everything away."""
        for file in self.folder.iterdir():
            file.unlink(missing_ok=True)
