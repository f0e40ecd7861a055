"""Fetching from an address that a member gave: never from this server's own network.

Each host is resolved once, every address of it must be public, and the connection goes to
the address that was looked at, so that a second answer of the name server changes nothing.
"""

import time
from urllib.parse import urljoin, urlsplit

import httpx

from core.deciding import is_web_address
from core.documents import Problem
from server.workspaces.reaching import public_place, trusted

LARGEST = 20 * 2**20
_SECONDS = 10.0
"""Without a sign of life."""
_SECONDS_IN_ALL = 30.0
_MOST_REDIRECTS = 4


def fetch(address: str) -> bytes | Problem:
    """What is at the address, up to 20 MB, or why it cannot be had; within half a minute in all."""
    ends = time.monotonic() + _SECONDS_IN_ALL
    for _ in range(_MOST_REDIRECTS):
        found = _get(address, ends)
        if not isinstance(found, _Moved):
            return found
        try:
            address = urljoin(address, found.to)
        except ValueError:
            return _problem("not_an_address", "The address leads to one that cannot be read.")
    return _problem("too_many_redirects", "The address leads from one to another without an end.")


class _Moved:
    def __init__(self, to: str) -> None:
        self.to = to


def _get(address: str, ends: float) -> "bytes | Problem | _Moved":
    if not is_web_address(address):
        return _problem("not_an_address", f"“{address[:100]}” is not the address of a sheet.")
    parts = urlsplit(address)
    host = parts.hostname or ""
    try:
        port = parts.port or (443 if parts.scheme == "https" else 80)
    except ValueError:
        return _problem("not_an_address", f"“{address[:100]}” is not the address of a sheet.")
    place = public_place(host, port)
    if isinstance(place, Problem):
        return place
    headers = {"Host": parts.netloc.rpartition("@")[2], "User-Agent": "Yalla"}
    try:
        url = httpx.URL(address).copy_with(host=place, port=port)
        with (
            httpx.Client(timeout=_SECONDS, trust_env=False, verify=trusted()) as client,
            client.stream("GET", url, headers=headers, extensions={"sni_hostname": host}) as answer,
        ):
            if answer.is_redirect:
                return _Moved(answer.headers.get("Location", ""))
            if answer.status_code != 200:
                return _problem("not_there", f"{host} answers {answer.status_code}.")
            return _read(answer, ends)
    except Exception as error:
        # The edge: odd hosts and answers raise errors of many libraries.
        return _problem("no_answer", f"{host} does not answer: {type(error).__name__}.")


def _read(answer: httpx.Response, ends: float) -> bytes | Problem:
    found = bytearray()
    for piece in answer.iter_bytes():
        found += piece
        if time.monotonic() > ends:
            return _problem("too_slow", f"The sheet does not arrive within {_SECONDS_IN_ALL:g} s.")
        if len(found) > LARGEST:
            return _problem("sheet_too_large", f"The sheet is larger than {LARGEST // 2**20} MB.")
    return bytes(found)


def _problem(code: str, sentence: str) -> Problem:
    return Problem(
        code=code,
        place="address",
        sentence=sentence,
        fix="Give the address at which the published sheet can be downloaded.",
    )
