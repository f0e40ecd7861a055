"""How times come out of PostgreSQL: by psycopg's compiled loader.

Django registers a loader of its own that is written in Python and reads each time by a regular
expression, which takes fifteen times as long; a run or a submission has half a dozen of them. What
comes out is the same, as the connection is in UTC.
"""

from datetime import UTC, datetime

import psycopg
from django.db.backends.postgresql.base import TIMESTAMPTZ_OID, DatabaseWrapper
from django.db.backends.signals import connection_created
from psycopg.abc import AdaptContext, Buffer
from psycopg.adapt import Loader
from psycopg.pq import Format


def load_times_compiled() -> None:
    """Do so on each connection that is made from now on."""
    connection_created.connect(_register, dispatch_uid="times")


def _register(connection: DatabaseWrapper, **_: object) -> None:
    if connection.vendor == "postgresql" and connection.timezone is UTC:
        adapters = connection.connection.adapters
        # A connection of the pool comes more than once.
        if adapters.get_loader(TIMESTAMPTZ_OID, Format.TEXT) is not _TimeLoader:
            adapters.register_loader("timestamptz", _TimeLoader)


class _TimeLoader(Loader):
    timezone = UTC
    """Django looks whether it is the connection's."""

    def __init__(self, oid: int, context: AdaptContext | None = None) -> None:
        super().__init__(oid, context)
        compiled = psycopg.adapters.get_loader(TIMESTAMPTZ_OID, Format.TEXT)
        assert compiled is not None
        self.load = compiled(oid, context).load  # type: ignore[method-assign]

    def load(self, data: Buffer) -> datetime:
        """Stands in for the compiled loader's, which is set for each loader."""
        raise NotImplementedError
