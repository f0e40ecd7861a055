"""Reaching hosts that a member named: never one of this server's own network.

Each host is resolved once, every address of it must be public, and the connection goes to the address
that was looked at, so that a second answer of the name server changes nothing.
"""

import codecs
import ipaddress
import socket
import ssl
from functools import cache

import httpx
from django.conf import settings

from core.documents import Problem


def public_place(host: str, port: int) -> str | Problem:
    """A public address of the host, or one of a host that the settings allow."""
    try:
        infos = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError, ValueError):
        return _unreachable("no_such_host", f"There is no host named {host[:100]}.")
    places = [str(info[4][0]) for info in infos]
    allowed = {host, f"{host}:{port}"} & set(settings.FETCH_HOSTS)
    if not allowed and not all(is_public(one) for one in places):
        return _unreachable(
            "private_network",
            f"{host[:100]} is in a private network, which nothing here reaches.",
        )
    return places[0]


# Networks that lead elsewhere: to an IPv4 address inside an IPv6 one (RFC 6052, 3056, 4291).
_ELSEWHERE = [
    ipaddress.ip_network(one)
    for one in ("64:ff9b::/96", "64:ff9b:1::/48", "2002::/16", "::/96", "::ffff:0:0/96")
]


def is_public(place: str) -> bool:
    """Whether an address is one of the public network, and of one machine there."""
    address = ipaddress.ip_address(place.split("%", maxsplit=1)[0])
    inside = any(address in one for one in _ELSEWHERE if one.version == address.version)
    return address.is_global and not address.is_multicast and not inside


def _unreachable(code: str, sentence: str) -> Problem:
    return Problem(
        code=code, place="address", sentence=sentence, fix="Give the address of a public server."
    )


@cache
def trusted() -> ssl.SSLContext:
    """What certificates are checked against; reading all authorities takes 50 ms, so it is done once."""
    return httpx.create_ssl_context(trust_env=False)


class NotReachable(httpx.TransportError):
    """A host that nothing is sent to."""


class BadExchange(httpx.TransportError):
    """A request that could not be made, or an answer that could not be read, for a reason of neither's
    protocol."""


def text_of(response: httpx.Response, content: bytes) -> str:
    """The text of an answer, by the charset that it states where that is one of text."""
    try:
        decoder = codecs.lookup(response.encoding or "utf-8")
        return content.decode(decoder.name if decoder._is_text_encoding else "utf-8", "replace")
    except (LookupError, ValueError):
        return content.decode("utf-8", "replace")


_LIMITS = httpx.Limits()


class PublicTransport(httpx.HTTPTransport):
    """Sends requests to public hosts alone, at the address that was looked at."""

    def __init__(self, limits: httpx.Limits = _LIMITS) -> None:
        super().__init__(verify=trusted(), trust_env=False, limits=limits)

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        """The request as it is, but to a place that may be reached. Whatever goes wrong is an `httpx.HTTPError`:
        odd hosts, certificates and answers raise errors of many libraries."""
        try:
            return self._handle(request)
        except httpx.HTTPError:
            raise
        except Exception as error:
            raise BadExchange(f"{type(error).__name__}: {error}", request=request) from error

    def _handle(self, request: httpx.Request) -> httpx.Response:
        host = request.url.host
        port = request.url.port or (443 if request.url.scheme == "https" else 80)
        place = public_place(host, port)
        if isinstance(place, Problem):
            raise NotReachable(place.sentence, request=request)
        # The Host header and the name of the certificate stay as they were named.
        request.extensions = {**request.extensions, "sni_hostname": host}
        request.url = request.url.copy_with(host=place, port=port)
        return super().handle_request(request)
