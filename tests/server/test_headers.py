"""The raw bytes of every structured header, by the grammars of the RFCs.

Nothing here is read back with the package that wrote it: the grammar of RFC 5322 is written
out below, and encoded words are decoded by hand (RFC 2047).
"""

import base64
import quopri
import re
from datetime import UTC, datetime
from itertools import product
from typing import Any
from unittest import TestCase

from server.mail.compose import Attached, Letter, compose, notice

# RFC 5322 3.2.3 and 3.2.4, without comments and obsolete syntax.
ATEXT = rb"[A-Za-z0-9!#$%&'*+/=?^_`{|}~-]"
DOT_ATOM = ATEXT + rb"+(?:\." + ATEXT + rb"+)*"
QUOTED = rb'"(?:[\x20\x21\x23-\x5b\x5d-\x7e]|\\[\x20-\x7e])*"'
ADDR_SPEC = rb"(?:" + DOT_ATOM + rb"|" + QUOTED + rb")@" + DOT_ATOM
# RFC 2047 2: at most 75 characters.
ENCODED = rb"=\?[!#-<>@A-Z^-~]+\?[BbQq]\?[!->@-~]+\?="
PHRASE = rb"(?:" + ENCODED + rb"(?: " + ENCODED + rb")*|" + QUOTED + rb")"
MAILBOX = rb"(?:" + PHRASE + rb" <" + ADDR_SPEC + rb">|" + ADDR_SPEC + rb")"
URI = rb"<https?://[!-;=?-~]+>"
MAILTO = rb"<mailto:[!-;=?-~]+\?subject=unsubscribe>"
# RFC 2919 2: a phrase, or nothing, and an identifier in brackets.
LIST_ID = rb"(?:" + PHRASE + rb" )?<" + DOT_ATOM + rb">"

GRAMMAR = {
    b"from": MAILBOX,
    b"to": ADDR_SPEC,
    b"message-id": rb"<" + DOT_ATOM + rb"@" + DOT_ATOM + rb">",
    b"reply-to": ADDR_SPEC,
    b"list-id": LIST_ID,
    b"list-unsubscribe": URI + rb", " + MAILTO,
    b"list-unsubscribe-post": rb"List-Unsubscribe=One-Click",
    b"auto-submitted": rb"auto-generated",
    b"date": rb"[A-Z][a-z]{2}, \d{2} [A-Z][a-z]{2} \d{4} \d{2}:\d{2}:\d{2} [+-]\d{4}",
    b"mime-version": rb"1\.0",
}
NAMES = (
    "Larkmoor",
    'Müller, "Bob" (Sales); <x@y.example>',
    "Обсерватория Ларкмур " * 8,
    "天文台" * 40,
    "مرصد لاركمور",
    "a" * 300,
    'O"Brien \\ Söns',
    "",
)
LABEL = "b" * 60
ADDRESSES = (
    "ines@example.com",
    "a" * 64 + "@" + ".".join([LABEL] * 3) + ".com",
    "a..b@example.com",
    ".a@example.com",
    "o'brien+news@example.com",
)
FILES = ("guide.pdf", "Ü" * 120 + ".pdf", 'a "quoted"; name.pdf', "z" * 200 + ".pdf", "星.pdf")


def letter(**more: Any) -> Letter:
    plain = {
        "identity": "01a213f9-b32e-75ea-9e3f-d960db2f6dc6",
        "sender_name": "Larkmoor",
        "sender_address": "hello@larkmoor.example",
        "to": "ines@example.com",
        "subject": "Your guide",
        "html": "<p>Hello</p>",
        "text": "Hello",
        "leave": "https://mail.larkmoor.example/u/" + "x" * 120 + ":" + "y" * 43,
        "list_name": "News",
        "list_id": "0193a7c2b1de.larkmoor.example",
        "leave_mail": "u-" + "a" * 39 + "@back.larkmoor.example",
        "reply_to": "people@larkmoor.example",
        "date": datetime(2026, 11, 24, 9, 0, tzinfo=UTC),
    }
    return Letter(**{**plain, **more})


def headers(raw: bytes) -> dict[bytes, bytes]:
    """The headers of a message, unfolded as RFC 5322 2.2.3 says, each with its lines checked."""
    head = raw.partition(b"\r\n\r\n")[0]
    found: dict[bytes, bytes] = {}
    for line in re.sub(rb"\r\n(?=[ \t])", b"", head).split(b"\r\n"):
        name, _, value = line.partition(b":")
        assert name.lower() not in found, name
        found[name.lower()] = value.removeprefix(b" ")
    for line in head.split(b"\r\n"):
        assert len(line) <= 998, line
        assert line.strip(), "a line of white space alone"
        assert not re.fullmatch(rb"[!-9;-~]+:[ \t]*", line), line
    return found


def decoded(value: bytes) -> str:
    """Encoded words, by hand; white space between two of them is nothing (RFC 2047 6.2)."""
    said = b""
    for charset, how, text in re.findall(rb"=\?([^?]+)\?([BbQq])\?([^?]*)\?=", value):
        assert charset.lower() == b"utf-8"
        if how.upper() == b"B":
            said += base64.b64decode(text)
        else:
            said += quopri.decodestring(text.replace(b"_", b" "))
    return said.decode()


class Headers(TestCase):
    def check(self, raw: bytes) -> dict[bytes, bytes]:
        found = headers(raw)
        for name, grammar in GRAMMAR.items():
            if name in found:
                self.assertRegex(found[name], rb"\A" + grammar + rb"\Z", name)
        return found

    def test_every_name_with_every_address(self) -> None:
        counted = 0
        for name, sender, to in product(NAMES, ADDRESSES, ADDRESSES):
            raw = compose(letter(sender_name=name, sender_address=sender, to=to, list_name=name))
            found = self.check(raw)
            self.assertLessEqual({*GRAMMAR} - {b"auto-submitted"}, found.keys())
            self.assertNotIn(b"=?", found[b"list-unsubscribe"])
            self.assertLessEqual(len(found[b"list-id"].rpartition(b"<")[2]), 256)
            shown = " ".join(name.split())
            if shown and not shown.isascii():
                self.assertEqual(decoded(found[b"from"]), shown)
            for word in re.findall(ENCODED, raw.partition(b"\r\n\r\n")[0]):
                self.assertLessEqual(len(word), 75)
            counted += 1
        self.assertEqual(counted, len(NAMES) * len(ADDRESSES) ** 2)

    def test_notices_too(self) -> None:
        for name, to in product(NAMES, ADDRESSES):
            at = datetime(2026, 11, 24, 9, 0, tzinfo=UTC)
            mail = notice(name, "hello@larkmoor.example", to, "Sub\r\nBcc: x", at, "text", "<p>")
            found = self.check(mail.message().as_bytes())
            self.assertIn(b"auto-submitted", found)
            self.assertNotIn(b"bcc", found)

    def test_names_of_files(self) -> None:
        for name in FILES:
            files = (Attached(name, "application/pdf", b"%PDF"),)
            raw = compose(letter(files=files))
            (part,) = re.findall(rb"Content-Disposition: attachment;(.*?)\r\n(?![ \t])", raw, re.S)
            # RFC 2231 3 and 4: pieces in order, percent-encoded where they say so with a star.
            pieces = re.findall(rb"filename\*(\d+)\*=([^;\r\n]*)", part)
            whole = re.search(rb"filename\*=([^;\r\n]*)", part)
            if pieces:
                self.assertEqual([int(n) for n, _ in pieces], list(range(len(pieces))))
                said = b"".join(text for _, text in pieces)
            elif whole:
                said = whole.group(1)
            else:
                said = None
            if said is None:
                quoted = re.search(rb'filename="((?:[^"\\]|\\.)*)"', part)
                assert quoted
                found = re.sub(rb"\\(.)", rb"\1", quoted.group(1)).decode("ascii")
            else:
                charset, _, text = said.split(b"'", 2)
                found = re.sub(
                    rb"%([0-9A-Fa-f]{2})", lambda one: bytes([int(one.group(1), 16)]), text
                ).decode(charset.decode())
            self.assertEqual(found, name)

    def test_an_address_beyond_ascii_stands_as_it_is(self) -> None:
        # RFC 6532 3.2: UTF-8 in the headers, and no encoded word in an address.
        raw = compose(letter(to="grüße@example.com", sender_name="Lärkmoor"))
        found = headers(raw)
        self.assertEqual(found[b"to"].decode(), "grüße@example.com")
        self.assertNotIn(b"=?", found[b"to"])
