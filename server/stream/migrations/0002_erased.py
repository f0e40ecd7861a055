"""Whoever is erased is taken off the screens that are open."""

from django.db import migrations

from server.stream.topics import triggers_of


class Migration(migrations.Migration):
    dependencies = [("stream", "0001_triggers")]
    operations = [
        migrations.RunSQL(
            triggers_of("people_subscriber", "people"),
            "DROP TRIGGER announces_delete ON people_subscriber;",
        )
    ]
