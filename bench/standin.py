"""A service that answers each request after five milliseconds: `python -m bench.standin PORT`."""

import json
import sys
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

SECONDS = 0.005


class Answers(BaseHTTPRequestHandler):
    """The same answer to everybody, on a connection that is kept."""

    protocol_version = "HTTP/1.1"
    # Headers and body in one packet, or the second waits for the first to be acknowledged.
    wbufsize = -1

    def do_POST(self) -> None:
        """As if something had been stored."""
        self.rfile.read(int(self.headers.get("Content-Length") or 0))
        time.sleep(SECONDS)
        body = json.dumps({"person": {"id": "p1"}}).encode()
        self.send_response(200)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *_: object) -> None:
        """Nothing."""


if __name__ == "__main__":
    ThreadingHTTPServer(("127.0.0.1", int(sys.argv[1])), Answers).serve_forever()
