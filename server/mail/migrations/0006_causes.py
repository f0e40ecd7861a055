from django.db import migrations

from server.workspaces.migrations._causes import fields_of, into_causes, into_json


class Migration(migrations.Migration):
    dependencies = [("mail", "0005_handed_at_and_archive"), ("workspaces", "0005_cause")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(into_causes("mail_send"), into_json("mail_send")),
            ],
            state_operations=[*fields_of("send")],
        )
    ]
