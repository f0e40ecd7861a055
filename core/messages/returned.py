"""What an email says that comes back to a sender: a bounce, a complaint, an automatic answer, a reply.

Delivery reports: RFC 3464, with the codes of RFC 3463; the many bounces that are none by
`flufl.bounce`. Complaints: RFC 5965. Automatic answers: RFC 3834. Nothing in such an email is
believed further than it can be checked: whose address it is about says the address that it came to,
or the id of the email it answers.
"""

import logging
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from email import policy
from email.message import EmailMessage, Message
from email.parser import BytesParser
from typing import Any, Literal

from flufl.bounce import all_failures

from ..delivering import OF_MAILBOX
from .mail_bounds import bounded_email

ReturnedKind = Literal["hard", "soft", "complaint", "unsubscribe", "automatic", "reply", "unknown"]

# It says of its own detectors which of them stumble over odd emails; the next one reads on.
logging.getLogger("flufl.bounce").setLevel(logging.CRITICAL + 1)
LARGEST_RETURNED = 1_000_000
"""Bytes of an email that is read; what is longer is read from its beginning alone."""
_STATUS = re.compile(r"\b([245])\.(\d{1,3})\.(\d{1,3})\b")
_MESSAGE_ID = re.compile(r"<([^<>\s]{3,300})>")
_AT_FAULT = {*OF_MAILBOX, "5.1.0"}
"""No such mailbox, no such system, an address that is none, one that has moved, a domain that takes no
mail, a mailbox that is off (RFC 3463 3.2, 3.3; RFC 7505)."""


@dataclass(frozen=True)
class Returned:
    """What came back."""

    kind: ReturnedKind
    status: str = ""
    """The enhanced code, such as 5.1.1."""
    reason: str = ""
    """In the words of the server that said it."""
    failed: frozenset[str] = frozenset()
    """The addresses that a bounce says it is about."""
    ids: tuple[str, ...] = ()
    """The emails that it answers or encloses, by their Message-ID, without brackets."""
    subject: str = ""
    sender: str = ""
    at_fault: bool = False
    """Whether the address itself is no good, rather than this email or the moment."""
    message_id: str = field(default="", compare=False)


def read_returned(content: bytes) -> Returned:
    """Read an email that came back. One that cannot be understood is `unknown`, never an error."""
    try:
        raw = bounded_email(content, LARGEST_RETURNED)
        # The detectors know messages of the older kind.
        failures = all_failures(BytesParser(policy=policy.compat32).parsebytes(raw))
        return _read(BytesParser(policy=policy.default).parsebytes(raw), failures)
    except (ValueError, LookupError, AttributeError, TypeError, RecursionError, IndexError):
        return Returned(kind="unknown")


Failures = tuple[frozenset[bytes], frozenset[bytes]]
"""The addresses that failed for now, and those that failed for good."""


def _read(message: EmailMessage, failures: Failures) -> Returned:
    subject = _header(message, "Subject")[:300]
    about: dict[str, Any] = {
        "subject": subject,
        "sender": _addresses(_header(message, "From")),
        "ids": tuple(dict.fromkeys(_ids(message))),
        "message_id": "".join(_MESSAGE_ID.findall(_header(message, "Message-ID"))[:1]),
    }
    feedback = _part(message, "message/feedback-report")
    if feedback is not None:
        report = _fields(feedback)
        kind = report.get("feedback-type", "").strip().lower()
        to = report.get("original-rcpt-to", "")
        # Other reports (not-spam, auth-failure) say nothing against sending.
        is_complaint = kind in ("abuse", "fraud", "opt-out", "other", "virus", "miscategorized")
        return Returned(
            kind="complaint" if is_complaint else "unknown",
            reason=f"reported as {kind}"[:500] if kind else "",
            failed=frozenset(filter(None, [_addresses(to)])),
            **about,
        )
    bounce = _bounce(message, failures)
    if bounce is not None:
        return Returned(**{**about, **bounce})
    if _automatic(message):
        return Returned(kind="automatic", reason=subject, **about)
    if about["ids"] or re.match(r"\s*(re|aw|sv|vs|antw|odp|ynt)\s*:", subject, re.IGNORECASE):
        return Returned(kind="reply", **about)
    return Returned(kind="unknown", **about)


def _bounce(message: EmailMessage, failures: Failures) -> dict[str, Any] | None:
    status_part = _part(message, "message/delivery-status")
    temporary, permanent = failures
    addresses = {
        one.decode("utf-8", "replace") if isinstance(one, bytes) else str(one)
        for one in (*temporary, *permanent)
    }
    blocks = list(_recipients(status_part)) if status_part is not None else []
    if blocks:
        failed = [one for one in blocks if not _went_well(one)]
        if not failed:
            return {"kind": "automatic", "reason": "a report of delivery"}
        one = failed[0]
        status = _status(one.get("status", ""))
        words = _words(one.get("diagnostic-code", "")) or status
        more = _status(words)
        # Servers often say 5.0.0 as the status and more in their own words.
        exact = more if status in ("", "5.0.0", "4.0.0") and more else status
        to = one.get("original-recipient") or one.get("final-recipient") or ""
        addresses |= {_addresses(to.partition(";")[2] or to)}
        soft = one.get("action", "").lower().startswith("delay") or exact.startswith("4")
        return _said(exact, words, soft, addresses)
    if not addresses:
        return None
    text = _text(message)
    status = _status(text)
    soft = bool(temporary and not permanent) or status.startswith("4")
    return _said(status, _line_with(text, status), soft, addresses)


def _went_well(block: dict[str, str]) -> bool:
    """Delivered, relayed, expanded: no bounce (RFC 3464 2.3.3)."""
    action = block.get("action", "").lower()
    return action.startswith(("delivered", "relayed", "expanded")) or (
        not action and block.get("status", "").startswith("2")
    )


def _said(status: str, words: str, soft: bool, failed: set[str]) -> dict[str, Any]:
    at_fault = not soft and (status in _AT_FAULT or (not status and _no_such_person(words)))
    return {
        "kind": "soft" if soft else "hard",
        "status": status,
        "reason": words[:500],
        "failed": frozenset(one.lower() for one in failed if one),
        "at_fault": at_fault,
    }


def _no_such_person(words: str) -> bool:
    return bool(
        re.search(
            r"(user|mailbox|recipient|address|account)[^.\n]{0,40}(unknown|not found|does ?n.t exist|"
            r"no such|invalid|disabled|unavailable)|no such (user|person|mailbox|recipient)|"
            r"unknown (user|recipient|address)",
            words,
            re.IGNORECASE,
        )
    )


def _automatic(message: EmailMessage) -> bool:
    """Whether a program answered (RFC 3834 2, 5; and what programs did before it)."""
    submitted = _header(message, "Auto-Submitted").strip().lower()
    if submitted and not submitted.startswith("no"):
        return True
    if _header(message, "Precedence").strip().lower() in ("bulk", "junk", "auto_reply", "list"):
        return True
    if any(name in message for name in ("X-Autoreply", "X-Autorespond", "X-Auto-Reply-From")):
        return True
    # The null sender is that of reports (RFC 5321 4.5.5).
    return _header(message, "Return-Path").strip() == "<>"


def _part(message: EmailMessage, kind: str) -> EmailMessage | None:
    for number, part in enumerate(message.walk()):
        if number > 200:
            return None
        if part.get_content_type() == kind:
            return part
    return None


def _fields(part: EmailMessage) -> dict[str, str]:
    """The fields of a report, whose lines are those of headers."""
    found: dict[str, str] = {}
    for one in reversed(_groups(part)):
        found.update(one)
    return found


def _groups(part: EmailMessage) -> list[dict[str, str]]:
    """The groups of fields of a report, apart by empty lines."""
    payload = part.get_payload()
    if isinstance(payload, list):
        return [
            {key.lower(): " ".join(str(value).split()) for key, value in one.items()}
            for one in payload
            if isinstance(one, Message)
        ]
    raw = bytes(part.get_payload(decode=True) or b"").decode("utf-8", "replace")
    return [_as_fields(one) for one in re.split(r"\r?\n\r?\n", raw)]


def _as_fields(text: str) -> dict[str, str]:
    unfolded = re.sub(r"\r?\n[ \t]+", " ", text)
    pairs = (line.partition(":") for line in unfolded.splitlines() if ":" in line)
    return {key.strip().lower(): value.strip() for key, _, value in pairs}


def _recipients(part: EmailMessage) -> Iterator[dict[str, str]]:
    """The groups of fields of a delivery report that are each about a recipient (RFC 3464 2.1)."""
    yield from (one for one in _groups(part) if "action" in one or "status" in one)


def _status(text: str) -> str:
    found = _STATUS.search(text)
    return ".".join(found.groups()) if found else ""


def _words(diagnostic: str) -> str:
    """The words of a server: “smtp; 550 5.1.1 No such person”, without the kind."""
    kind, semicolon, words = diagnostic.partition(";")
    return " ".join((words if semicolon and len(kind) < 20 else diagnostic).split())


def _text(message: EmailMessage) -> str:
    part = message.get_body(("plain", "html"))
    if part is None:
        return ""
    raw = part.get_payload(decode=True) or b""
    return bytes(raw).decode("utf-8", "replace")[:100_000]


def _line_with(text: str, status: str) -> str:
    lines = [" ".join(line.split()) for line in text.splitlines() if line.strip()]
    if status:
        return next((line for line in lines if status in line), "")[:500]
    report = next((line for line in lines if _no_such_person(line)), "")
    return (report or " ".join(lines[:3]))[:500]


def _header(message: Any, name: str) -> str:
    try:
        return " ".join(str(message.get(name, "")).split())
    except (ValueError, LookupError, AttributeError, TypeError, IndexError):
        return ""


def _addresses(text: str) -> str:
    found = re.search(r"[^\s<>,;:\"()]+@[^\s<>,;:\"()]+", text)
    return found[0].lower() if found else ""


def _ids(message: EmailMessage) -> Iterator[str]:
    """What it answers (In-Reply-To, References), and what it encloses."""
    for name in ("In-Reply-To", "References"):
        yield from _MESSAGE_ID.findall(_header(message, name))
    for number, part in enumerate(message.walk()):
        if number > 200:
            return
        if part is message:
            continue
        if part.get_content_type() == "text/rfc822-headers":
            raw = bytes(part.get_payload(decode=True) or b"").decode("utf-8", "replace")
            yield from _MESSAGE_ID.findall(_as_fields(raw).get("message-id", ""))
        elif part.get_content_maintype() != "multipart" or "Message-ID" in part:
            yield from _MESSAGE_ID.findall(_header(part, "Message-ID"))
