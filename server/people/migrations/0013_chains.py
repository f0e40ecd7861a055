"""When people left, and evidence as chains that the database guards.

Evidence from before is sealed as it stands now: its chain proves that nothing was changed from
here on.
"""

from hashlib import sha256
from itertools import groupby

from django.db import migrations, models

from core.history import canonical

GUARD = """
CREATE FUNCTION guard_evidence() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    moved people_evidence%ROWTYPE;
BEGIN
    IF TG_OP = 'DELETE' THEN
        IF current_setting('yalla.evidence', true) = 'erasing' THEN
            RETURN OLD;
        END IF;
    ELSIF current_setting('yalla.evidence', true) = 'merging' THEN
        moved := NEW;
        moved.membership_id := OLD.membership_id;
        IF moved IS NOT DISTINCT FROM OLD THEN
            RETURN NEW;
        END IF;
    END IF;
    RAISE EXCEPTION 'evidence is never changed or removed'
        USING ERRCODE = 'integrity_constraint_violation';
END $$;
CREATE TRIGGER evidence_is_kept BEFORE UPDATE OR DELETE ON people_evidence
    FOR EACH ROW EXECUTE FUNCTION guard_evidence();
"""
UNGUARD = """
DROP TRIGGER evidence_is_kept ON people_evidence;
DROP FUNCTION guard_evidence();
"""


def seal(apps, schema_editor):
    from server.people.chain import content_of

    Evidence = apps.get_model("people", "Evidence")
    rows = Evidence._default_manager.order_by("membership_id", "at", "id").iterator(2000)
    for chain, group in groupby(rows, key=lambda row: row.membership_id):
        previous = ""
        found = list(group)
        for number, row in enumerate(found, 1):
            row.chain, row.number, row.previous = chain, number, previous
            row.hash = previous = sha256(canonical(content_of(row))).hexdigest()
        Evidence._default_manager.bulk_update(
            found, ["chain", "number", "previous", "hash"], batch_size=500
        )


def left(apps, schema_editor):
    Membership = apps.get_model("people", "Membership")
    gone = Membership._default_manager.filter(state__in=["unsubscribed", "complained"])
    gone.update(left_at=models.F("changed_at"))


class Migration(migrations.Migration):
    dependencies = [("people", "0012_confirmed_lists")]

    operations = [
        migrations.AddField("membership", "left_at", models.DateTimeField(null=True)),
        migrations.AddField("subscriber", "left_all_at", models.DateTimeField(null=True)),
        migrations.RunPython(left, migrations.RunPython.noop),
        migrations.AddField("evidence", "chain", models.UUIDField(null=True)),
        migrations.AddField("evidence", "number", models.PositiveIntegerField(default=0)),
        migrations.AddField(
            "evidence", "previous", models.CharField(blank=True, default="", max_length=64)
        ),
        migrations.AddField("evidence", "hash", models.CharField(default="", max_length=64)),
        migrations.RunPython(seal, migrations.RunPython.noop),
        migrations.AlterField("evidence", "chain", models.UUIDField()),
        migrations.AlterField("evidence", "number", models.PositiveIntegerField()),
        migrations.AlterField("evidence", "previous", models.CharField(blank=True, max_length=64)),
        migrations.AlterField("evidence", "hash", models.CharField(max_length=64)),
        migrations.AddConstraint(
            "evidence",
            models.UniqueConstraint(fields=["chain", "number"], name="one_evidence_per_number"),
        ),
        migrations.RunSQL(GUARD, UNGUARD),
    ]
