"""What the services know, in one SQLite file: things of a kind, each a JSON object."""

import json
import sqlite3
import threading
import uuid
from pathlib import Path
from typing import Any

from .. import settings

Thing = dict[str, Any]
_local = threading.local()
_SCHEMA = """
CREATE TABLE IF NOT EXISTS thing (
    number INTEGER PRIMARY KEY AUTOINCREMENT, service TEXT, kind TEXT, id TEXT, look TEXT, body TEXT,
    UNIQUE (service, kind, id));
CREATE INDEX IF NOT EXISTS by_look ON thing (service, kind, look);
"""


class Store:
    """The things of one service. `look`: what they are found by, an address in lower case."""

    def __init__(self, service: str) -> None:
        self.service = service

    def all(self, kind: str, after: int = 0, most: int = 10_000) -> list[Thing]:
        """The oldest first; `number` counts up."""
        rows = _db().execute(
            "SELECT number, body FROM thing WHERE service = ? AND kind = ? AND number > ? "
            "ORDER BY number LIMIT ?",
            [self.service, kind, after, most],
        )
        return [{**json.loads(body), "number": number} for number, body in rows]

    def get(self, kind: str, pk: str) -> Thing | None:
        """One by its id."""
        return self._one("id", kind, pk)

    def find(self, kind: str, look: str) -> Thing | None:
        """One by what it is found by."""
        return self._one("look", kind, look.strip().lower())

    def put(self, kind: str, thing: Thing, look: str = "") -> Thing:
        """Store a thing, new or changed."""
        thing = {"id": uuid.uuid4().hex[:12], **thing}
        thing.pop("number", None)
        with _db() as db:
            db.execute(
                "INSERT INTO thing (service, kind, id, look, body) VALUES (?, ?, ?, ?, ?) "
                "ON CONFLICT (service, kind, id) DO UPDATE SET look = excluded.look, body = excluded.body",
                [self.service, kind, thing["id"], look.strip().lower(), json.dumps(thing)],
            )
        return thing

    def remove(self, kind: str, pk: str) -> bool:
        """Whether it was there."""
        with _db() as db:
            gone = db.execute(
                "DELETE FROM thing WHERE service = ? AND kind = ? AND id = ?",
                [self.service, kind, pk],
            )
        return gone.rowcount > 0

    def count(self, kind: str) -> int:
        """How many there are."""
        found = _db().execute(
            "SELECT count(*) FROM thing WHERE service = ? AND kind = ?", [self.service, kind]
        )
        return int(found.fetchone()[0])

    def _one(self, column: str, kind: str, value: str) -> Thing | None:
        row = (
            _db()
            .execute(
                f"SELECT body FROM thing WHERE service = ? AND kind = ? AND {column} = ?",
                [self.service, kind, value],
            )
            .fetchone()
        )
        return json.loads(row[0]) if row else None


def _db() -> sqlite3.Connection:
    """The connection of this thread."""
    file = Path(settings.SERVICE_FILE)
    if getattr(_local, "file", None) != file:
        file.parent.mkdir(parents=True, exist_ok=True)
        _local.db = sqlite3.connect(file, timeout=20)
        _local.db.executescript("PRAGMA journal_mode = WAL; PRAGMA synchronous = OFF;" + _SCHEMA)
        _local.file = file
    db: sqlite3.Connection = _local.db
    return db
