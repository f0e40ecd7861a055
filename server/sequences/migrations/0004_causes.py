from django.db import migrations

from server.workspaces.migrations._causes import fields_of, into_causes, into_json


class Migration(migrations.Migration):
    dependencies = [("sequences", "0003_tries_and_archive"), ("workspaces", "0005_cause")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(into_causes("sequences_run"), into_json("sequences_run")),
            ],
            state_operations=[*fields_of("run")],
        )
    ]
