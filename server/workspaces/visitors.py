"""Who calls a public page, as far as the network tells."""

import ipaddress

from django.conf import settings
from django.http import HttpRequest


def network_address(request: HttpRequest) -> str:
    """The address that the outermost of our own proxies was called from."""
    direct = str(request.META.get("REMOTE_ADDR", ""))
    if not settings.PROXIES:
        return direct
    passed = [one.strip() for one in request.headers.get("X-Forwarded-For", "").split(",")]
    found = [*passed, direct][-settings.PROXIES - 1 :][0]
    try:
        return str(ipaddress.ip_address(found))
    except ValueError:
        return direct
