from django.db import migrations, models

_RENAMED = "ALTER TABLE submissions_submission RENAME CONSTRAINT {} TO {}"
_BEFORE, _NOW = "one_submission_per_rendering", "one_submission_per_key"


class Migration(migrations.Migration):
    dependencies = [("submissions", "0001_initial")]

    operations = [
        migrations.RenameField(
            model_name="submission", old_name="rendering", new_name="idempotency_key"
        ),
        # The index is that of the column, whatever it is called: it is not made anew.
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(_RENAMED.format(_BEFORE, _NOW), _RENAMED.format(_NOW, _BEFORE))
            ],
            state_operations=[
                migrations.RemoveConstraint(model_name="submission", name=_BEFORE),
                migrations.AddConstraint(
                    model_name="submission",
                    constraint=models.UniqueConstraint(
                        fields=["source", "idempotency_key"], name=_NOW
                    ),
                ),
            ],
        ),
    ]
