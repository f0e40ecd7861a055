"""Evidence by keyed hashes, guarded against TRUNCATE too, and changed by two functions alone, which belong to the
owner of the tables: so the role that serves needs no right to change or remove it.

What is there is sealed anew. A chain that did not hold before keeps its hashes, and goes on not to hold.
"""

from hashlib import sha256
from itertools import groupby

import django.db.models.deletion
import django.db.models.manager
from django.db import migrations, models

import server.workspaces.ids
from core.history import canonical

FUNCTIONS = """
CREATE FUNCTION refuse_truncate() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'evidence is never changed or removed'
        USING ERRCODE = 'integrity_constraint_violation';
END $$;
CREATE TRIGGER evidence_is_never_truncated BEFORE TRUNCATE ON people_evidence
    FOR EACH STATEMENT EXECUTE FUNCTION refuse_truncate();

CREATE FUNCTION erase_evidence(memberships uuid[]) RETURNS void LANGUAGE plpgsql
SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    PERFORM set_config('yalla.evidence', 'erasing', true);
    DELETE FROM people_evidence WHERE membership_id = ANY(memberships);
    PERFORM set_config('yalla.evidence', '', true);
END $$;

CREATE FUNCTION move_evidence(rows uuid[], membership uuid) RETURNS void LANGUAGE plpgsql
SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    PERFORM set_config('yalla.evidence', 'merging', true);
    UPDATE people_evidence SET membership_id = membership WHERE id = ANY(rows);
    PERFORM set_config('yalla.evidence', '', true);
END $$;

CREATE FUNCTION make_part(whole text, part text, low uuid, high uuid) RETURNS void LANGUAGE plpgsql
SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF whole <> 'people_fact' OR part !~ '^people_fact_[0-9]{4}_[0-9]{2}$' THEN
        RAISE EXCEPTION 'no part of this name is made';
    END IF;
    -- Nobody writes to the rest between its rows leaving it and the part being there.
    EXECUTE format('LOCK TABLE %I IN SHARE ROW EXCLUSIVE MODE', whole);
    EXECUTE format('CREATE TEMPORARY TABLE moving ON COMMIT DROP AS '
        'SELECT * FROM %I WHERE id >= %L AND id < %L', whole || '_rest', low, high);
    EXECUTE format('DELETE FROM %I WHERE id >= %L AND id < %L', whole || '_rest', low, high);
    EXECUTE format('CREATE TABLE %I PARTITION OF %I FOR VALUES FROM (%L) TO (%L)',
        part, whole, low, high);
    EXECUTE format('INSERT INTO %I SELECT * FROM moving', whole);
    DROP TABLE moving;
END $$;
REVOKE EXECUTE ON FUNCTION erase_evidence(uuid[]), move_evidence(uuid[], uuid),
    make_part(text, text, uuid, uuid) FROM PUBLIC;
"""
BACK = """
DROP TRIGGER evidence_is_never_truncated ON people_evidence;
DROP FUNCTION refuse_truncate();
DROP FUNCTION erase_evidence(uuid[]);
DROP FUNCTION move_evidence(uuid[], uuid);
DROP FUNCTION make_part(text, text, uuid, uuid);
"""


def _plain(content):
    return sha256(canonical(content)).hexdigest()


def seal(apps, schema_editor):
    from core.history import entry_hash
    from server.people.chain import content_of, evidence_keys

    key = evidence_keys()[0]
    _seal_by(apps, schema_editor, _plain, lambda content: entry_hash(content, key), content_of)


def unseal(apps, schema_editor):
    from core.history import entry_hash
    from server.people.chain import content_of, evidence_keys

    key = evidence_keys()[0]
    _seal_by(apps, schema_editor, lambda content: entry_hash(content, key), _plain, content_of)


def _seal_by(apps, schema_editor, before, after, content_of):
    Evidence = apps.get_model("people", "Evidence")
    rows = Evidence._default_manager.order_by("chain", "number")
    if not rows.exists():
        return
    schema_editor.execute("ALTER TABLE people_evidence DISABLE TRIGGER evidence_is_kept")
    waiting = []
    for _, group in groupby(rows.iterator(2000), key=lambda row: row.chain):
        found = list(group)
        if any(row.hash != before(content_of(row)) for row in found):
            continue
        previous = ""
        for row in found:
            row.previous = previous
            row.hash = previous = after(content_of(row))
        waiting += found
        if len(waiting) > 2000:
            Evidence._default_manager.bulk_update(waiting, ["previous", "hash"], batch_size=500)
            waiting = []
    Evidence._default_manager.bulk_update(waiting, ["previous", "hash"], batch_size=500)
    # What is checked at the end is checked now, or the trigger could not be switched on again.
    schema_editor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    schema_editor.execute("ALTER TABLE people_evidence ENABLE TRIGGER evidence_is_kept")


class Migration(migrations.Migration):
    dependencies = [
        ("workspaces", "0008_attention"),
        ("people", "0022_every_address"),
    ]

    operations = [
        migrations.CreateModel(
            name="EvidenceReleased",
            fields=[
                (
                    "id",
                    models.UUIDField(
                        default=server.workspaces.ids.new_id,
                        editable=False,
                        primary_key=True,
                        serialize=False,
                    ),
                ),
                ("chain", models.UUIDField()),
                ("at", models.DateTimeField()),
                ("signature", models.CharField(max_length=64)),
                (
                    "workspace",
                    models.ForeignKey(
                        db_constraint=False,
                        on_delete=django.db.models.deletion.CASCADE,
                        to="workspaces.workspace",
                    ),
                ),
            ],
            options={"abstract": False},
            managers=[("everywhere", django.db.models.manager.Manager())],
        ),
        migrations.AlterField(
            model_name="evidence",
            name="membership",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.DO_NOTHING,
                related_name="evidence",
                to="people.membership",
            ),
        ),
        migrations.RunSQL(FUNCTIONS, BACK),
        migrations.RunPython(seal, unseal),
    ]
