import django.db.models.deletion
from django.db import migrations, models

from server.workspaces.migrations._causes import into_causes, into_json


class Migration(migrations.Migration):
    dependencies = [("sequences", "0003_tries_and_archive"), ("workspaces", "0005_cause")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(into_causes("sequences_run"), into_json("sequences_run")),
            ],
            state_operations=[
                migrations.RemoveField(model_name="run", name="because"),
                migrations.AddField(
                    model_name="run",
                    name="cause",
                    field=models.ForeignKey(
                        db_constraint=False,
                        db_index=False,
                        default=None,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="workspaces.cause",
                    ),
                    preserve_default=False,
                ),
                migrations.AddField(
                    model_name="run", name="sentence", field=models.TextField(blank=True)
                ),
                migrations.AddField(
                    model_name="run", name="by_submission", field=models.UUIDField(null=True)
                ),
                migrations.AddField(
                    model_name="run", name="by_run", field=models.UUIDField(null=True)
                ),
                migrations.AddField(
                    model_name="run", name="by_send", field=models.UUIDField(null=True)
                ),
                migrations.AddField(
                    model_name="run", name="by_replay", field=models.UUIDField(null=True)
                ),
            ],
        )
    ]
