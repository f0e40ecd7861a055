"""The tables as all migrations leave them (`server/tables.sql`), which an empty database is made from
at once: write them, or check them.

Going through the history of every migration takes Django most of half a minute, nearly all of it for
models that are only in between.
"""

import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from .builds import PYTHON, ROOT
from .packages import postgres_bin
from .postgres import Cluster
from .testing import settings_for

TABLES = ROOT / "server" / "tables.sql"
_MONTHS = "*_2[0-9][0-9][0-9]_[0-9][0-9]"
"""The parts of a table for single months: made for the day on which it is."""
_REMARKS = ("-- Name: ", "-- PostgreSQL", "\\")
"""Lines between the statements that say nothing about the tables, or are for psql."""
_HEAD = """\
-- The tables as all migrations leave them, for a database that is empty: Django's migrate loads it
-- there. Written by `python -m launch.tables`; do not edit.
"""
_MIGRATIONS = (
    "SELECT format('INSERT INTO public.django_migrations (app, name, applied) VALUES (%L, %L, now());',"
    " app, name) FROM public.django_migrations ORDER BY id"
)


def main(words: list[str]) -> int:
    """Write the file; with --check, say whether it makes what the migrations make. With --here on the
    cluster of the environment, else on one of its own."""
    act = _check if "--check" in words else _write
    if "--here" in words:
        return act(dict(os.environ))
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        folder.chmod(0o755)
        (folder / "static").mkdir()
        cluster = Cluster(folder / "postgres", durable=False)
        cluster.start()
        try:
            return act(settings_for(cluster, folder))
        finally:
            cluster.stop()


def _write(environment: dict[str, str]) -> int:
    steps = _migrated(environment, "steps", by_steps=True)
    TABLES.write_text(f"{_HEAD}\n{_dumped(steps)}\n{_asked(steps, _MIGRATIONS)}")
    return 0


def _check(environment: dict[str, str]) -> int:
    steps = _migrated(environment, "steps", by_steps=True)
    whole = _migrated(environment, "whole", by_steps=False)
    # PostgreSQL words some conditions anew when it reads what it has written.
    again = _database(environment, "again")
    load = f"SET check_function_bodies = off;\n{_dumped(steps)}"
    _client("psql", again, "-X", "-q", "-v", "ON_ERROR_STOP=1", put_in=load)
    same = _dumped(again) == _dumped(whole)
    # None but Django's own rows come from migrations.
    rows = ("--data-only", "--inserts", "--exclude-table-data=django_migrations")
    same = same and _rows(steps, *rows) == _rows(whole, *rows)
    if same and _asked(steps, _MIGRATIONS) == _asked(whole, _MIGRATIONS):
        return 0
    print("The migrations have changed: run python -m launch.tables and commit what it writes.")
    return 1


def _database(environment: dict[str, str], name: str) -> dict[str, str]:
    """An empty database; how it is reached."""
    _asked(environment, f"CREATE DATABASE {name}")
    return {**environment, "YALLA_DB_NAME": name}


def _migrated(environment: dict[str, str], name: str, *, by_steps: bool) -> dict[str, str]:
    """A database that is migrated; how it is reached."""
    own = {**_database(environment, name), "YALLA_BY_STEPS": "1" if by_steps else ""}
    subprocess.run(
        [str(PYTHON), "manage.py", "migrate", "--verbosity", "0"], cwd=ROOT, env=own, check=True
    )
    return own


def _dumped(environment: dict[str, str]) -> str:
    """The tables as pg_dump writes them, without what is about its session."""
    dump = _pg_dump(environment, "--schema-only")
    # What stands before the first statement is about the session that restores.
    lines = dump[dump.index("\nCREATE ") + 1 :].splitlines()
    kept = (one for one in lines if one != "--" and not one.startswith(_REMARKS))
    return re.sub(r"\n{3,}", "\n\n", "\n".join(kept)).strip() + "\n"


def _rows(environment: dict[str, str], *words: str) -> list[str]:
    dump = _pg_dump(environment, *words)
    return sorted(line for line in dump.splitlines() if line.startswith(("INSERT", "SELECT")))


def _pg_dump(environment: dict[str, str], *words: str) -> str:
    quiet = ("--no-owner", "--no-privileges", f"--exclude-table={_MONTHS}")
    return _client("pg_dump", environment, *quiet, *words)


def _asked(environment: dict[str, str], statement: str) -> str:
    return _client("psql", environment, "-X", "-A", "-t", "-q", "-c", statement)


def _client(program: str, environment: dict[str, str], *words: str, put_in: str = "") -> str:
    """What one of PostgreSQL's client programs prints."""
    folder = postgres_bin()
    assert folder is not None
    return subprocess.run(
        [str(folder / program), *words],
        env={
            **os.environ,
            "PGHOST": environment["YALLA_DB_HOST"],
            "PGPORT": environment["YALLA_DB_PORT"],
            "PGUSER": environment["YALLA_DB_USER"],
            "PGPASSWORD": environment["YALLA_DB_PASSWORD"],
            "PGDATABASE": environment["YALLA_DB_NAME"],
        },
        input=put_in,
        check=True,
        stdout=subprocess.PIPE,
        text=True,
    ).stdout


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
