"""The because of a table's rows, from JSON of its own to a cause and what is each row's own, and back.

`cause` below is the id of the content; ids made by the application are made otherwise, and a cause
that stands twice does no harm.
"""

import django.db.models.deletion
from django.db import migrations, models

OWN = {
    "submission_id": "by_submission",
    "run_id": "by_run",
    "send_id": "by_send",
    "replay_id": "by_replay",
}
_NAMES = (
    "kind source_id source_name revision band line_id sequence_id sequence_name step_id member"
).split()
_SHARED = f"jsonb_strip_nulls(because - '{{sentence,{','.join(OWN)}}}'::text[])"
CAUSE_ID = f"md5(workspace_id::text || ({_SHARED})::text)::uuid"
COLUMNS = "cause_id, sentence, by_submission, by_run, by_send, by_replay"
FROM_JSON = ", ".join(
    [
        CAUSE_ID,
        "coalesce(because->>'sentence', '')",
        *(f"(because->>'{name}')::uuid" for name in OWN),
    ]
)
_EMPTY = ", ".join(f"'{name}', null" for name in _NAMES)
TO_JSON = (
    f"jsonb_build_object({_EMPTY}) || cause.content || jsonb_build_object('sentence', row.sentence, "
    + ", ".join(f"'{name}', row.{column}" for name, column in OWN.items())
    + ")"
)


def causes_of(table: str) -> str:
    """Store the causes of all rows."""
    return f"""
INSERT INTO workspaces_cause (id, workspace_id, content)
SELECT DISTINCT {CAUSE_ID}, workspace_id, {_SHARED} FROM {table}
ON CONFLICT DO NOTHING
"""


def into_causes(table: str) -> str:
    """A table's column becomes the columns of a because by reference."""
    return f"""
{causes_of(table)};
ALTER TABLE {table}
    ADD COLUMN cause_id uuid, ADD COLUMN sentence text,
    ADD COLUMN by_submission uuid, ADD COLUMN by_run uuid,
    ADD COLUMN by_send uuid, ADD COLUMN by_replay uuid;
UPDATE {table} SET ({COLUMNS}) = ROW ({FROM_JSON});
ALTER TABLE {table}
    ALTER COLUMN cause_id SET NOT NULL, ALTER COLUMN sentence SET NOT NULL, DROP COLUMN because;
"""


def into_json(table: str) -> str:
    """And back."""
    return f"""
ALTER TABLE {table} ADD COLUMN because jsonb;
UPDATE {table} AS row SET because = {TO_JSON} FROM workspaces_cause AS cause
WHERE cause.id = row.cause_id;
ALTER TABLE {table}
    ALTER COLUMN because SET NOT NULL, DROP COLUMN cause_id, DROP COLUMN sentence,
    DROP COLUMN by_submission, DROP COLUMN by_run, DROP COLUMN by_send, DROP COLUMN by_replay;
"""


def fields_of(model):
    """The same in Django's state of a model."""
    cause = models.ForeignKey(
        db_constraint=False,
        db_index=False,
        default=None,
        on_delete=django.db.models.deletion.DO_NOTHING,
        related_name="+",
        to="workspaces.cause",
    )
    return [
        migrations.RemoveField(model_name=model, name="because"),
        migrations.AddField(model_name=model, name="cause", field=cause, preserve_default=False),
        migrations.AddField(model_name=model, name="sentence", field=models.TextField(blank=True)),
        *(
            migrations.AddField(model_name=model, name=name, field=models.UUIDField(null=True))
            for name in OWN.values()
        ),
    ]
