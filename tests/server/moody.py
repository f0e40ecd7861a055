"""A mail server with moods."""

import contextlib
import socketserver
import threading
import time
from collections.abc import Callable


class Moody(socketserver.ThreadingTCPServer):
    """An SMTP server that speaks as it is told, and remembers what it heard.

    `closes_after`, `replies` and `slow` (seconds) go by the verb; TEXT is the email itself.
    `on_text` is called with the number of each email, before it is answered.
    """

    allow_reuse_address = True
    daemon_threads = True

    def __init__(
        self,
        *,
        pipelining: bool = False,
        closes_after: str = "",
        replies: dict[str, str] | None = None,
        slow: dict[str, float] | None = None,
    ) -> None:
        self.slow = slow or {}
        self.on_text: Callable[[int], object] = lambda number: None
        self.pipelining, self.closes_after, self.replies = pipelining, closes_after, replies or {}
        self.heard: list[list[str]] = []
        self.emails: list[bytes] = []
        super().__init__(("127.0.0.1", 0), _Talk)
        threading.Thread(target=self.serve_forever, daemon=True).start()

    @property
    def port(self) -> int:
        return int(self.server_address[1])


class _Talk(socketserver.StreamRequestHandler):
    server: Moody

    def say(self, text: str) -> None:
        self.wfile.write(f"{text}\r\n".encode())

    def handle(self) -> None:
        # Whoever waits too long hangs up.
        with contextlib.suppress(ConnectionError):
            self.talk()

    def talk(self) -> None:
        mine: list[str] = []
        self.server.heard.append(mine)
        self.say("220 moody")
        while line := self.rfile.readline():
            words = line.decode().strip()
            verb = words.split(" ")[0].split(":")[0].upper()
            mine.append(words)
            time.sleep(self.server.slow.get(verb, 0))
            if verb == self.server.closes_after:
                return
            if verb in self.server.replies:
                self.say(self.server.replies[verb])
                continue
            match verb:
                case "EHLO":
                    self.say(
                        "250-moody"
                        + ("\r\n250 PIPELINING" if self.server.pipelining else "\r\n250 HELP")
                    )
                case "DATA":
                    self.say("354 go on")
                    content = b""
                    while (one := self.rfile.readline()) not in (b".\r\n", b""):
                        content += one
                    self.server.emails.append(content)
                    self.server.on_text(len(self.server.emails))
                    time.sleep(self.server.slow.get("TEXT", 0))
                    if self.server.closes_after == "TEXT":
                        return
                    self.say("250 taken")
                case "QUIT":
                    self.say("221 bye")
                    return
                case _:
                    self.say("250 ok")
