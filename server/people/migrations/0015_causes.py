"""Taggings, memberships and the trail refer to causes; the trail is parted by month.

The trail is copied once into its new table, which takes as long as its rows need: of a large one
see docs/runbook.md first.
"""

from django.db import migrations

from server.workspaces.migrations._causes import (
    COLUMNS,
    FROM_JSON,
    TO_JSON,
    causes_of,
    fields_of,
    into_causes,
    into_json,
)
from server.workspaces.partitions import make_months

_KEPT = "id, workspace_id, subscriber_id, at, kind, about, what"
_TABLE = """
CREATE TABLE people_fact (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    subscriber_id uuid NOT NULL,
    at timestamptz NOT NULL,
    kind varchar(12) NOT NULL,
    about varchar(80) NOT NULL,
    what jsonb NOT NULL,
    {columns}
) {parted};
"""
_PARTED = """
ALTER TABLE people_fact RENAME TO people_fact_before;
ALTER INDEX people_fact_pkey RENAME TO people_fact_before_pkey;
ALTER INDEX trail RENAME TO trail_before;
ALTER INDEX happened RENAME TO happened_before;
""" + _TABLE.format(
    columns="""cause_id uuid NOT NULL, sentence text NOT NULL,
    by_submission uuid, by_run uuid, by_send uuid, by_replay uuid""",
    parted="PARTITION BY RANGE (id)",
) + """
CREATE TABLE people_fact_rest PARTITION OF people_fact DEFAULT;
"""
_INDEXES = """
ALTER TABLE people_fact ADD PRIMARY KEY (id);
CREATE INDEX trail ON people_fact (subscriber_id, at DESC, id DESC);
CREATE INDEX happened ON people_fact (subscriber_id, kind, about, at)
    WHERE kind IN ('submitted', 'sent', 'event') OR (about > '' AND kind = 'membership');
ALTER TABLE people_fact ADD CONSTRAINT people_fact_workspace_fk
    FOREIGN KEY (workspace_id) REFERENCES workspaces_workspace (id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE people_fact ADD CONSTRAINT people_fact_subscriber_fk
    FOREIGN KEY (subscriber_id) REFERENCES people_subscriber (id) DEFERRABLE INITIALLY DEFERRED;
"""
_COPY = f"""
{causes_of("people_fact_before")};
INSERT INTO people_fact ({_KEPT}, {COLUMNS})
SELECT {_KEPT}, {FROM_JSON} FROM people_fact_before;
DROP TABLE people_fact_before;
{_INDEXES}
"""
_WHOLE = (
    """
ALTER TABLE people_fact RENAME TO people_fact_parted;
ALTER INDEX people_fact_pkey RENAME TO people_fact_parted_pkey;
ALTER INDEX trail RENAME TO trail_parted;
ALTER INDEX happened RENAME TO happened_parted;
"""
    + _TABLE.format(columns="because jsonb NOT NULL", parted="")
    + f"""
INSERT INTO people_fact ({_KEPT}, because)
SELECT {", ".join(f"row.{one}" for one in _KEPT.split(", "))}, {TO_JSON}
FROM people_fact_parted AS row JOIN workspaces_cause AS cause ON cause.id = row.cause_id;
DROP TABLE people_fact_parted;
{_INDEXES}
"""
)
_FORGET_UNDOING = """
UPDATE people_merge SET restore = '{}' WHERE restore <> '{}'
"""
"""What is kept for a day to undo a merge names columns that are gone."""


def _months(apps, editor):
    with editor.connection.cursor() as cursor:
        cursor.execute("SELECT min(id::text), max(id::text) FROM people_fact_before")
        first, _ = cursor.fetchone()
    make_months("people_fact", first)


class Migration(migrations.Migration):
    dependencies = [("people", "0014_lean_indexes_and_zones"), ("workspaces", "0005_cause")]

    operations = [
        migrations.RunSQL(_FORGET_UNDOING, _FORGET_UNDOING),
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(into_causes("people_tagging"), into_json("people_tagging")),
                migrations.RunSQL(into_causes("people_membership"), into_json("people_membership")),
                migrations.RunSQL(into_causes("people_task"), into_json("people_task")),
                migrations.RunSQL(_PARTED, migrations.RunSQL.noop),
                migrations.RunPython(_months, migrations.RunPython.noop),
                migrations.RunSQL(_COPY, _WHOLE),
            ],
            state_operations=[*fields_of("tagging"), *fields_of("membership"), *fields_of("task"), *fields_of("fact")],
        ),
    ]
