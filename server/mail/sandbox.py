"""Rendering, laying out and reading what members wrote, in processes of their own with limits of time and memory.

The limits of the template language are in `core/messages/personal.py`; this is what holds where they are
not enough. A text that takes too long ends its process alone, and is a problem like any other.
"""

import atexit
import contextlib
import json
import os
import selectors
import subprocess
import sys
import time
from base64 import b64encode
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict
from queue import Empty, LifoQueue
from typing import Any

from django.conf import settings

from core.documents import Finding, Problem
from core.messages import (
    LARGEST_RETURNED,
    TOO_COSTLY,
    Frame,
    HouseStyle,
    Incoming,
    MessageDocument,
    PictureFacts,
    Returned,
    Series,
    SeriesEmail,
    SeriesForm,
    Source,
    Template,
    Written,
)
from core.people import FieldFacts
from server.workspaces.shapes import Json

SECONDS = 2.0
"""For one text of one person; an ordinary one takes a few milliseconds."""
LAYOUT_SECONDS = 8.0
"""For laying out or reading a whole message: once for each revision, and kept."""
RETURNED_SECONDS = 5.0
"""For an email that came back; an ordinary one takes a few milliseconds."""
_MOST = 4
"""Processes at the same time, for each process of the server."""


class _Gone(Exception):
    """The process did not answer in time, or ended."""


class _Child:
    """One process, which answers one question at a time."""

    def __init__(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "server.mail.sandboxed"],
            cwd=settings.BASE_DIR,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            env={"PATH": os.environ.get("PATH", ""), "PYTHONPATH": str(settings.BASE_DIR)},
        )
        # It says so when it has read its modules, which does not count as writing a text.
        self._said = bytearray()
        list(self.ask({"do": "needed", "document": {}}, 1, 30))

    def ask(self, question: Json, count: int, seconds: float | None = None) -> Iterator[Any]:
        """So many answers, each within `seconds` (SECONDS where not said) of the one before it."""
        into = self.process.stdin
        assert into is not None
        try:
            into.write(json.dumps(question).encode() + b"\n")
            into.flush()
        except OSError as error:
            raise _Gone from error
        for _ in range(count):
            yield json.loads(self._line(time.monotonic() + (seconds or SECONDS)))

    def _line(self, ends: float) -> bytes:
        out = self.process.stdout
        assert out is not None
        with selectors.DefaultSelector() as selector:
            selector.register(out, selectors.EVENT_READ)
            while (end := self._said.find(b"\n")) < 0:
                if not selector.select(max(0.0, ends - time.monotonic())):
                    raise _Gone
                piece = os.read(out.fileno(), 65_536)
                if not piece:
                    raise _Gone
                self._said += piece
        line = bytes(self._said[:end])
        del self._said[: end + 1]
        return line

    def end(self) -> None:
        """End it, whatever it does."""
        self.process.kill()
        for pipe in (self.process.stdin, self.process.stdout):
            with contextlib.suppress(OSError):
                if pipe is not None:
                    pipe.close()
        self.process.wait()


class _Pool:
    """The processes of one process of the server."""

    def __init__(self) -> None:
        self.owner = os.getpid()
        self.free: LifoQueue[_Child | None] = LifoQueue()
        for _ in range(_MOST):
            self.free.put(None)

    def ask(self, question: Json, count: int, seconds: float | None) -> list[Any]:
        """So many answers; fewer where the process ended."""
        child = self.free.get()
        answer: list[Any] = []
        try:
            child = child or _Child()
            answer.extend(child.ask(question, count, seconds))
        except _Gone:
            pass
        finally:
            if len(answer) < count and child is not None:
                child.end()
                child = None
            self.free.put(child)
        return answer

    def end(self) -> None:
        with contextlib.suppress(Empty):
            while True:
                child = self.free.get_nowait()
                if child is not None:
                    child.end()


_pool: _Pool | None = None


def _ask(question: Json, count: int = 1, seconds: float | None = None) -> list[Any]:
    global _pool  # noqa: PLW0603
    if _pool is None or _pool.owner != os.getpid():
        _pool = _Pool()
        atexit.register(_pool.end)
    return _pool.ask(question, count, seconds)


def write(sources: Sequence[Source], context: Mapping[str, object]) -> Written | Problem:
    """As `core.messages.write`; a text that takes too much is a problem."""
    return write_all(sources, [context])[0]


def write_all(
    sources: Sequence[Source], contexts: Sequence[Mapping[str, object]]
) -> list[Written | Problem]:
    """The same for many people: whom it takes too much for does not hold up the others."""
    parts = [[one.kind, one.text] for one in sources]
    written: list[Written | Problem] = []
    while len(written) < len(contexts):
        left = [dict(one) for one in contexts[len(written) :]]
        answer = _ask({"do": "write", "parts": parts, "contexts": left}, len(left))
        written += [_read(one) for one in answer]
        if len(answer) < len(left):
            written.append(TOO_COSTLY)
    return written


def _read(answer: Json) -> Written | Problem:
    is_text = answer.pop("is") == "Written"
    return Written.model_validate(answer) if is_text else Problem.model_validate(answer)


def check_document(
    name: str,
    document: MessageDocument,
    fields: Mapping[str, FieldFacts],
    pictures: Mapping[str, PictureFacts],
    *,
    has_file: bool,
) -> tuple[Finding, ...]:
    """As `core.messages.check_document`."""
    plain = {
        key: {"id": one.id, "key": one.key, "label": one.label, "type": one.type}
        for key, one in fields.items()
    }
    question = {
        "do": "check",
        "name": name,
        "document": document.model_dump(mode="json"),
        "fields": plain,
        "pictures": {key: asdict(one) for key, one in pictures.items()},
        "has_file": has_file,
    }
    answer = _ask(question)
    if not answer:
        sentence = f"“{name}”: {TOO_COSTLY.sentence}"
        return (Finding(code=TOO_COSTLY.code, sentence=sentence, fix=TOO_COSTLY.fix),)
    return tuple(
        Finding.model_validate({key: value for key, value in one.items() if key != "is"})
        for one in answer[0]
    )


def needed(document: MessageDocument) -> tuple[str, ...]:
    """As `core.messages.needed`."""
    answer = _ask({"do": "needed", "document": document.model_dump(mode="json")})
    return tuple(answer[0]) if answer else ()


class NotLaidOut(Exception):
    """A message that cannot be laid out within what the process may take."""


def _around(
    document: MessageDocument, style: HouseStyle, frame: Frame, pictures: Mapping[str, PictureFacts]
) -> Json:
    return {
        "document": document.model_dump(mode="json"),
        "style": style.model_dump(mode="json"),
        "frame": asdict(frame),
        "pictures": {key: asdict(one) for key, one in pictures.items()},
    }


def lay_out(
    document: MessageDocument,
    hidden: frozenset[str],
    style: HouseStyle,
    frame: Frame,
    pictures: Mapping[str, PictureFacts],
) -> Template:
    """As `core.messages.lay_out`. Raises `NotLaidOut`."""
    around = _around(document, style, frame, pictures)
    answer = _ask({"do": "lay_out", "hidden": sorted(hidden), **around}, seconds=LAYOUT_SECONDS)
    if not answer:
        raise NotLaidOut
    found = answer[0]
    return Template(
        language=found["language"],
        sources=tuple(Source(one["kind"], one["text"]) for one in found["sources"]),
        subject=found["subject"],
        preheader=found["preheader"],
        html=tuple(found["html"]),
        text=tuple(found["text"]),
        links=tuple(found["links"]),
    )


def export(
    form: str,
    document: MessageDocument,
    style: HouseStyle,
    frame: Frame,
    pictures: Mapping[str, PictureFacts],
    sender: str,
) -> bytes:
    """The message in an open format: `eml`, `html` or `mjml`. Raises `NotLaidOut`."""
    question = {"do": "export", "form": form, "sender": sender}
    answer = _ask(question | _around(document, style, frame, pictures), seconds=LAYOUT_SECONDS)
    if not answer:
        raise NotLaidOut
    text: str = answer[0]
    return text.encode("latin-1" if form == "eml" else "utf-8")


def read(form: str, content: bytes) -> Incoming | Problem:
    """A message of a file in an open format."""
    found = _read_file("read", form, content)
    if isinstance(found, Problem):
        return found
    return Incoming(MessageDocument.model_validate(found["document"]), found["left_out"])


def read_series(form: SeriesForm, content: bytes) -> Series | Problem:
    """As `core.messages.read_series`; what takes too long to read is a problem."""
    found = _read_file("series", form, content)
    if isinstance(found, Problem):
        return found
    emails = [SeriesEmail.model_validate(one) for one in found["emails"]]
    return Series(emails, found["left_out"])


def _read_file(how: str, form: str, content: bytes) -> Json | Problem:
    question = {"do": how, "form": form, "content": b64encode(content).decode()}
    answer = _ask(question, seconds=LAYOUT_SECONDS)
    if not answer:
        return Problem(
            code="too_complex",
            place="file",
            sentence="This file takes too long to read.",
            fix="Simplify it, or paste its text instead.",
        )
    found: Json = answer[0]
    return Problem.model_validate(found) if found.pop("is") == "Problem" else found


def read_returned(content: bytes) -> Returned:
    """As `core.messages.read_returned`; what takes too long to read is `unknown`."""
    question = {"do": "returned", "content": b64encode(content[:LARGEST_RETURNED]).decode()}
    answer = _ask(question, seconds=RETURNED_SECONDS)
    if not answer:
        return Returned(kind="unknown")
    found = answer[0]
    return Returned(**{**found, "failed": frozenset(found["failed"]), "ids": tuple(found["ids"])})
