"""Addresses that a message links to."""

import re
from urllib.parse import urlsplit

TOKEN = re.compile(r"\{\{.*?\}\}|\{%.*?%\}", re.DOTALL)
_SCHEMES = ("http", "https", "mailto", "tel")


def wrong_address(link: str) -> str | None:
    """What is wrong with where a link leads, to come after “links to”; None: nothing.

    A token stands for something that is there; one alone may be a whole address.
    """
    text = link.strip()
    if not text or text == "#":
        return "nothing."
    if TOKEN.fullmatch(text):
        return None
    tried = TOKEN.sub("x", text)
    if re.search(r"[\s<>\"]", tried):
        return f"“{text[:80]}”, which has characters that no address has."
    try:
        parts = urlsplit(tried)
        port_is_fine = parts.port is None or parts.port > 0
    except ValueError:
        return f"“{text[:80]}”, which is no address."
    if not parts.scheme:
        return f"“{text[:80]}”, which does not begin with https://."
    if parts.scheme.lower() not in _SCHEMES:
        return f"“{text[:80]}”, which is no web address, mail address or phone number."
    if parts.scheme.lower() in ("http", "https"):
        host = parts.hostname or ""
        named = "." in host.strip(".") or host == "localhost" or ":" in host
        if not named or ".." in host or not port_is_fine:
            return f"“{text[:80]}”, which names no website."
    elif not parts.path.strip():
        return f"“{text[:80]}”, which names nobody."
    return None


def is_web_address(link: str) -> bool:
    """Whether a link, as it is sent, leads to a website."""
    return link[:8].lower().startswith(("http://", "https://"))
