"""Rendering what members wrote, in processes of their own with limits of time and memory.

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
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from queue import Empty, LifoQueue
from typing import Any

from django.conf import settings

from core.documents import Finding, Problem
from core.messages import TOO_COSTLY, MessageDocument, PictureFacts, Source, Written
from core.people import FieldFacts

SECONDS = 2.0
"""For one text of one person; an ordinary one takes a few milliseconds."""
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
        self._ask({"do": "needed", "document": {}}, 30)

    def ask(self, question: dict[str, Any]) -> Any:
        return self._ask(question, SECONDS)

    def _ask(self, question: dict[str, Any], seconds: float) -> Any:
        out, into = self.process.stdout, self.process.stdin
        assert out is not None and into is not None
        ends = time.monotonic() + seconds
        try:
            into.write(json.dumps(question).encode() + b"\n")
            into.flush()
        except OSError as error:
            raise _Gone from error
        said = bytearray()
        with selectors.DefaultSelector() as selector:
            selector.register(out, selectors.EVENT_READ)
            while not said.endswith(b"\n"):
                if not selector.select(max(0.0, ends - time.monotonic())):
                    raise _Gone
                piece = os.read(out.fileno(), 65_536)
                if not piece:
                    raise _Gone
                said += piece
        return json.loads(said)

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

    def ask(self, question: dict[str, Any]) -> Any:
        child = self.free.get()
        try:
            child = child or _Child()
            return child.ask(question)
        except _Gone:
            if child is not None:
                child.end()
            child = None
            raise
        finally:
            self.free.put(child)

    def end(self) -> None:
        with contextlib.suppress(Empty):
            while True:
                child = self.free.get_nowait()
                if child is not None:
                    child.end()


_pool: _Pool | None = None


def _ask(question: dict[str, Any]) -> Any:
    global _pool  # noqa: PLW0603
    if _pool is None or _pool.owner != os.getpid():
        _pool = _Pool()
        atexit.register(_pool.end)
    return _pool.ask(question)


def write(sources: Sequence[Source], context: Mapping[str, object]) -> Written | Problem:
    """As `core.messages.write`; a text that takes too much is a problem."""
    parts = [[one.kind, one.text] for one in sources]
    try:
        said = _ask({"do": "write", "parts": parts, "context": dict(context)})
    except _Gone:
        return TOO_COSTLY
    is_text = said.pop("is") == "Written"
    return Written.model_validate(said) if is_text else Problem.model_validate(said)


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
    try:
        said = _ask(question)
    except _Gone:
        sentence = f"“{name}”: {TOO_COSTLY.sentence}"
        return (Finding(code=TOO_COSTLY.code, sentence=sentence, fix=TOO_COSTLY.fix),)
    return tuple(
        Finding.model_validate({key: value for key, value in one.items() if key != "is"})
        for one in said
    )


def needed(document: MessageDocument) -> tuple[str, ...]:
    """As `core.messages.needed`."""
    try:
        return tuple(_ask({"do": "needed", "document": document.model_dump(mode="json")}))
    except _Gone:
        return ()
