"""Open screens are told of broadcasts."""

from django.db import migrations

from server.stream.topics import Topic, triggers_of

_TABLES: dict[str, Topic] = {
    "broadcasts_broadcast": "broadcasts",
    "broadcasts_broadcastrevision": "drafts",
}


class Migration(migrations.Migration):
    dependencies = [("stream", "0002_erased"), ("broadcasts", "0001_initial")]
    operations = [
        migrations.RunSQL(
            triggers_of(table, topic),
            "".join(f"DROP TRIGGER announces_{kind} ON {table};" for kind in ("insert", "update", "delete")),
        )
        for table, topic in _TABLES.items()
    ]
