"""Links and pictures that are counted, and telling people from programs.

Scanners of mail servers and mail programs load pictures and follow links by themselves. The rules
here are common practice; whoever follows none of them is taken for a person, so opens are an
estimate, and clicks nearly one.
"""

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from html import escape, unescape
from typing import Literal
from urllib.parse import parse_qsl, urlencode, urlsplit, urlunsplit

from .addresses import is_web_address

_NUMBERED = re.compile(r'<a data-l="(\d+)"([^>]*?)\bhref="([^"]*)"', re.IGNORECASE)
_LEFT = re.compile(r' data-l="\d+"')
Kind = Literal["open", "click", "trap"]
By = Literal["person", "machine"]

AT_ONCE = timedelta(seconds=4)
"""So soon after an email was handed over, nobody has read it."""
TOGETHER = timedelta(seconds=10)
"""Within it, nobody follows every link of a letter."""
AROUND_TRAP = timedelta(seconds=60)
"""What comes so near to the hidden link comes from the same program."""
LEAST_LINKS = 3
"""Of a letter with fewer links, a person may well follow each at once."""
_PROGRAMS = re.compile(
    # Words by which programs name themselves, alone or as parts of a name; one telephone is called “Cubot”.
    r"(?<!cu)bot\b|crawl|spider|scan|preview|prefetch|fetch|monitor|headless|phishing|malware|antivirus"
    r"|(?:link|url|mail|safe)[-_ ]?(?:check|protect|inspect|verif|guard|shield|rewrit)|security|sandbox"
    r"|validator|\b(?:python|curl|wget|java|go-http|okhttp|libwww|axios|node)\b",
    re.IGNORECASE,
)


def counted_links(html: str, change: Callable[[int, str], str]) -> str:
    """The letter with each numbered link leading where `change` says (its number, and where it
    leads), and without the numbers."""

    def changed(found: re.Match[str]) -> str:
        address = change(int(found[1]), unescape(found[3]))
        return f'<a{found[2]}href="{escape(address)}"'

    return _LEFT.sub("", _NUMBERED.sub(changed, html))


def with_parameters(address: str, parameters: Iterable[tuple[str, str]]) -> str:
    """A web address with the parameters that it does not have of its own."""
    if not is_web_address(address):
        return address
    parts = urlsplit(address)
    have = {key for key, _ in parse_qsl(parts.query, keep_blank_values=True)}
    more = [(key, value) for key, value in parameters if value and key not in have]
    if not more:
        return address
    query = "&".join(one for one in (parts.query, urlencode(more)) if one)
    return urlunsplit(parts._replace(query=query))


def with_counters(html: str, pixel: str, trap: str) -> str:
    """The letter with a picture that tells that it was opened, and a link that no person sees.

    Either may be empty. Both are hidden from screen readers too."""
    hidden = (
        f'<div style="display:none" aria-hidden="true"><a href="{escape(trap)}" tabindex="-1"></a></div>'
        if trap
        else ""
    )
    image = (
        f'<img src="{escape(pixel)}" alt="" width="1" height="1" '
        'style="display:block;width:1px;height:1px;border:0">'
        if pixel
        else ""
    )
    before, body, after = html.rpartition("</body>")
    return f"{before}{hidden}{image}{body}{after}" if body else html


@dataclass(frozen=True)
class Touched:
    """A picture was loaded, or a link followed."""

    kind: Kind
    at: datetime
    link: str = ""
    agent: str = ""
    """How the program names itself (User-Agent)."""
    how: str = ""
    """HEAD, or a purpose that the request states, such as prefetch; empty for a plain one."""


@dataclass(frozen=True)
class Judged:
    """By whom, and why it was taken for a program."""

    by: By
    why: str = ""


def judge(touches: Sequence[Touched], sent_at: datetime | None, links: int) -> list[Judged]:
    """By whom each touch of one email was: all of them together, in whatever order they came.

    `links`: how many links the letter has that are counted.
    """
    traps = [one.at for one in touches if one.kind == "trap"]
    clicks = [one for one in touches if one.kind == "click"]

    def why(one: Touched) -> str:
        if one.kind == "trap":
            return "followed a hidden link"
        if one.how:
            return f"asked with {one.how}"
        if not one.agent.strip() or _PROGRAMS.search(one.agent):
            return "a program by its own words"
        if any(abs(one.at - at) <= AROUND_TRAP for at in traps):
            return "came with a hidden link"
        if sent_at is not None and one.at - sent_at < AT_ONCE:
            return "at once"
        if one.kind == "click" and links >= LEAST_LINKS:
            near = {other.link for other in clicks if abs(other.at - one.at) <= TOGETHER}
            if len(near) >= links:
                return "every link at once"
        return ""

    reasons = [why(one) for one in touches]
    return [Judged("machine", one) if one else Judged("person") for one in reasons]
