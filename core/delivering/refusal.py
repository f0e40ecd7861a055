"""What a mail server's refusal says: who or what is at fault, and whether it is for good.

RFC 5321 4.2 for the reply codes, RFC 3463 for the enhanced ones (class 5 is permanent, 4 for now; X.1 is
about an address, X.2 about the mailbox, X.7 about policy). Only an answer to RCPT that speaks of the
mailbox is the address's fault. Whoever refuses the sender, a relay, the policy or the content says nothing
against the person.
"""

import re
from typing import Literal

from ..documents import value

Stage = Literal["connect", "mail", "rcpt", "data"]
"""What was answered: the greeting, MAIL, RCPT, or DATA and the text."""
Fault = Literal["mailbox", "sending", "passing"]
"""`mailbox`: the address is no good, for good. `sending`: the sender, the relay, the policy or the content.
`passing`: for now; it is tried again."""

_REPLY = re.compile(r"^(?P<code>[2-5]\d\d)(?:[ -]+(?:(?P<enhanced>[245]\.\d{1,3}\.\d{1,3})\b)?|$)")
OF_MAILBOX = frozenset({"5.1.1", "5.1.2", "5.1.3", "5.1.6", "5.1.10", "5.2.1"})
"""Bad mailbox, bad system, bad syntax, moved, null MX (RFC 7505), mailbox off."""
_BARE = ("550", "551", "553")
"""Codes that may speak of the mailbox where no enhanced code says more."""
_SPEAKS_OF_MAILBOX = re.compile(
    r"(?ix)"
    r"(?:no\ such|unknown|invalid|bad|non-?existent|inactive|disabled)\ "
    r"(?:local\ )?(?:user|mailbox|recipient|address|account)"
    r"|(?:user|mailbox|recipient|address|account)\b.{0,60}?\b"
    r"(?:unknown|not\ (?:found|known|exist)|does(?:n['’]t|\ not)\ exist|doesn.?t\ exist|invalid|"
    r"unavailable|disabled|inactive|no\ longer|closed|not\ available)"
    r"|mailbox\ name\ not\ allowed|user\ not\ local|no\ mailbox|not\ our\ (?:user|customer)|nobody\b"
)
_SPEAKS_OF_SENDER = re.compile(
    r"(?i)\bsender\b|\brelay|not permitted|denied|polic|block|spam|reputation|blacklist|\blisted\b"
    r"|spf|dkim|dmarc|authenticat|\bfrom\b|content|\bip\b"
)


@value
class Refusal:
    """What an answer means for the email, the address and the sending."""

    fault: Fault
    soft_mailbox: bool = False
    """Of a passing one: whether it speaks of the mailbox (full, for one), so that many in a row over days
    say that the address is no good."""


def judge_refusal(stage: Stage, reply: str) -> Refusal:
    """What `reply`, as the mail server gave it at `stage`, says."""
    found = _REPLY.match(reply.strip())
    if found is None:
        return Refusal(fault="passing")
    code, enhanced = found["code"], found["enhanced"]
    if not code.startswith("5"):
        about = (enhanced or "").split(".")[1:2]
        return Refusal(
            fault="passing", soft_mailbox=stage == "rcpt" and about in ([], ["1"], ["2"])
        )
    if stage == "rcpt":
        if enhanced is not None:
            return Refusal(fault="mailbox" if enhanced in OF_MAILBOX else "sending")
        words = reply[3:]
        # A sentence that names the sender is believed before one that names the mailbox.
        if (
            code in _BARE
            and _SPEAKS_OF_MAILBOX.search(words)
            and not _SPEAKS_OF_SENDER.search(words)
        ):
            return Refusal(fault="mailbox")
    return Refusal(fault="sending")
