import django.db.models.deletion
from django.db import migrations, models

from server.workspaces.migrations._causes import into_causes, into_json


class Migration(migrations.Migration):
    dependencies = [("mail", "0005_handed_at_and_archive"), ("workspaces", "0005_cause")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(into_causes("mail_send"), into_json("mail_send")),
            ],
            state_operations=[
                migrations.RemoveField(model_name="send", name="because"),
                migrations.AddField(
                    model_name="send",
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
                    model_name="send", name="sentence", field=models.TextField(blank=True)
                ),
                migrations.AddField(
                    model_name="send", name="by_submission", field=models.UUIDField(null=True)
                ),
                migrations.AddField(
                    model_name="send", name="by_run", field=models.UUIDField(null=True)
                ),
                migrations.AddField(
                    model_name="send", name="by_send", field=models.UUIDField(null=True)
                ),
                migrations.AddField(
                    model_name="send", name="by_replay", field=models.UUIDField(null=True)
                ),
            ],
        )
    ]
