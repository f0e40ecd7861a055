"""Addresses beyond ASCII: by SMTPUTF8 where the mail server offers it, else held with the reason."""

import socket
import threading
from typing import ClassVar

from django.test import TestCase, override_settings

from server.mail.deliver import deliver
from server.snags.models import Snag
from tests.world import RealMail, make_world

ADDRESS = "grüße@example.com"


class _OldServer(threading.Thread):
    """A mail server without SMTPUTF8, which keeps every command as it came."""

    def __init__(self) -> None:
        super().__init__(daemon=True)
        self.socket = socket.create_server(("127.0.0.1", 0))
        self.port = self.socket.getsockname()[1]
        self.heard: list[bytes] = []

    def run(self) -> None:
        peer, _ = self.socket.accept()
        with peer, peer.makefile("rwb") as wire:
            wire.write(b"220 old.example\r\n")
            wire.flush()
            for line in wire:
                self.heard.append(line)
                verb = line[:4].upper()
                wire.write(b"250 old.example\r\n" if verb != b"QUIT" else b"221 bye\r\n")
                wire.flush()
                if verb == b"QUIT":
                    break


class BeyondAscii(RealMail, TestCase):
    smtp: ClassVar[_OldServer]

    def setUp(self) -> None:
        super().setUp()
        self.world = make_world()
        self.world.arrive(ADDRESS, first_name="Ines")
        (self.send,) = self.world.sends()

    def test_a_server_that_offers_it_takes_the_address_as_it_is(self) -> None:
        deliver(self.send.pk)
        (received,) = self.mailbox.list()
        self.assertEqual(received.recipients, (ADDRESS,))
        head = received.content.partition(b"\r\n\r\n")[0]
        self.assertIn(f"\r\nTo: {ADDRESS}\r\n".encode(), head)
        self.assertEqual(self.world.sends()[0].state, "sent")

    def test_a_server_that_does_not_is_never_given_a_wrong_one(self) -> None:
        old = _OldServer()
        old.start()
        with override_settings(EMAIL_PORT=old.port):
            deliver(self.send.pk)
        old.join(5)
        self.assertFalse(any(line.upper().startswith(b"RCPT") for line in old.heard), old.heard)
        (send,) = self.world.sends()
        self.assertEqual(send.state, "held")
        snag = Snag.objects.of(self.world.workspace).get()
        self.assertIn("SMTPUTF8", snag.sentence)
        self.assertIn(ADDRESS, snag.sentence)
