"""What the DNS of a sending domain has to say, and what it lacks.

DKIM: RFC 6376, RFC 8463. SPF: RFC 7208. DMARC: RFC 7489. The records of others in the same place
(an SPF record that other senders need) are kept, and only what is missing is asked for.
"""

import re
from collections.abc import Mapping, Sequence
from typing import Literal

from ..documents import Frozen

State = Literal["good", "missing", "wrong", "unknown"]
Answers = Mapping[tuple[str, str], Sequence[str] | None]
"""By name and type, the records that were found; None: nobody could be asked."""


class SendingFacts(Frozen):
    """What is needed to say which records a domain needs."""

    domain: str
    selector: str
    rsa_public: str
    """Base64 of the SubjectPublicKeyInfo."""
    ed_public: str
    """Base64 of the 32 bytes."""
    relay: str
    """The host that emails leave by."""
    return_domain: str = ""
    """The domain of envelope senders; empty: the domain itself."""


class DnsLine(Frozen):
    """One record: where it stands, what it says, and what was found."""

    name: str
    type: Literal["TXT", "MX"]
    value: str
    """What to publish."""
    what: str
    state: State = "unknown"
    note: str = ""


def records_needed(facts: SendingFacts) -> list[DnsLine]:
    """The records that a domain needs, before anybody has looked."""
    envelope = facts.return_domain or facts.domain
    lines = [
        DnsLine(
            name=f"{facts.selector}._domainkey.{facts.domain}",
            type="TXT",
            value=f"v=DKIM1; k=rsa; p={facts.rsa_public}",
            what="DKIM: the key by which receivers know that an email is yours",
        ),
        DnsLine(
            name=f"{facts.selector}-ed._domainkey.{facts.domain}",
            type="TXT",
            value=f"v=DKIM1; k=ed25519; p={facts.ed_public}",
            what="DKIM: the same with a shorter key, for receivers that know it",
        ),
        DnsLine(
            name=envelope,
            type="TXT",
            value=f"v=spf1 {_mechanism(facts.relay)} ~all",
            what="SPF: which servers may send for the domain of the envelope",
        ),
        DnsLine(
            name=f"_dmarc.{facts.domain}",
            type="TXT",
            value=f"v=DMARC1; p=none; rua=mailto:postmaster@{facts.domain}",
            what="DMARC: what receivers do with emails that are not yours",
        ),
    ]
    if facts.return_domain:
        lines.append(
            DnsLine(
                name=facts.return_domain,
                type="MX",
                value=f"10 {facts.return_domain}.",
                what="MX: where bounces and complaints go",
            )
        )
    return lines


def _mechanism(relay: str) -> str:
    if re.fullmatch(r"[0-9.]+", relay):
        return f"ip4:{relay}"
    return f"ip6:{relay}" if ":" in relay else f"a:{relay}"


def looked_at(facts: SendingFacts, answers: Answers) -> list[DnsLine]:
    """The records with what was found of each."""
    return [
        _judged(line, facts, answers.get((line.name, line.type))) for line in records_needed(facts)
    ]


def signs_well(lines: Sequence[DnsLine]) -> bool:
    """Whether receivers can check the signatures: the RSA key is there, as every receiver needs it."""
    return lines[0].state == "good"


def _judged(line: DnsLine, facts: SendingFacts, found: Sequence[str] | None) -> DnsLine:
    if found is None:
        return line.model_copy(
            update={"state": "unknown", "note": "Nobody answered; look again later."}
        )
    if line.type == "MX":
        state, note = ("good", "") if found else ("missing", "There is no MX record.")
    elif line.value.startswith("v=DKIM1"):
        state, note = _dkim(line, found)
    elif line.value.startswith("v=spf1"):
        state, note = _spf(line, found)
    else:
        state, note = _dmarc(found)
    return line.model_copy(update={"state": state, "note": note})


def _tags(record: str) -> dict[str, str]:
    pairs = (one.partition("=") for one in record.split(";"))
    return {key.strip().lower(): "".join(value.split()) for key, _, value in pairs if key.strip()}


def _dkim(line: DnsLine, found: Sequence[str]) -> tuple[State, str]:
    wanted = _tags(line.value)["p"]
    keys = [tags for tags in map(_tags, found) if "p" in tags]
    if not keys:
        return "missing", "There is no key here."
    if len(keys) > 1:
        return "wrong", "There are several keys here; only one may stand."
    if not keys[0]["p"]:
        return "wrong", "The key here is revoked: its p= is empty."
    if keys[0]["p"] != wanted:
        return "wrong", "Another key stands here, or this one is cut off."
    return "good", ""


def _spf(line: DnsLine, found: Sequence[str]) -> tuple[State, str]:
    records = [one for one in found if one.lower().split(" ")[0] == "v=spf1"]
    if not records:
        return "missing", "There is no SPF record."
    if len(records) > 1:
        return "wrong", "There are several SPF records; receivers then take none (RFC 7208 4.5)."
    terms = records[0].lower().split()[1:]
    last = next((one for one in terms if one.lstrip("+-~?") == "all"), "")
    if last.lstrip("+") == "all" and last[:1] not in "-~?":
        return "wrong", "It ends in +all, which lets everybody send for you."
    mechanism = line.value.split()[1].lower()
    if mechanism in terms:
        return "good", ""
    if any(one.lstrip("+").startswith(("include:", "redirect=", "mx", "a")) for one in terms):
        return "unknown", (
            f"It names other servers; whether {mechanism} is among them cannot be seen from here. "
            f"Add {mechanism} if emails are marked."
        )
    return "wrong", f"It does not name your server: add {mechanism}."


def _dmarc(found: Sequence[str]) -> tuple[State, str]:
    records = [one for one in found if one.lower().replace(" ", "").startswith("v=dmarc1")]
    if not records:
        return "missing", "There is no DMARC record; large receivers ask for one."
    if len(records) > 1:
        return (
            "wrong",
            "There are several DMARC records; receivers then take none (RFC 7489 6.6.3).",
        )
    policy = _tags(records[0]).get("p", "")
    if policy not in ("none", "quarantine", "reject"):
        return "wrong", "Its policy (p=) is none of none, quarantine and reject."
    return "good", ""
