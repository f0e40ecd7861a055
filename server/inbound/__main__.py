"""The process that takes what comes back: `python -m server.inbound`."""

import os
import signal
import threading

import django


def main() -> None:
    """Listen until the process is ended."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    django.setup()
    from django.conf import settings

    from .listener import Listener

    ended = threading.Event()
    for one in (signal.SIGTERM, signal.SIGINT):
        signal.signal(one, lambda *_: ended.set())
    if not settings.RETURN_DOMAIN:
        # Nothing comes back here; the process stays, so that the others need not know.
        ended.wait()
        return
    server = Listener(settings.INBOUND_HOST, settings.INBOUND_PORT, lmtp=settings.INBOUND_LMTP)
    server.start()
    ended.wait()
    server.stop()


if __name__ == "__main__":
    main()
