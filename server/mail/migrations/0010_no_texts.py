"""The texts of messages are in their revisions alone. Backwards, each has one text of all its live blocks
that are texts."""

from django.db import migrations, models

_BACK = """
UPDATE mail_message SET
    subject = r.document->>'subject', preheader = r.document->>'preheader',
    body = coalesce((SELECT string_agg(b->>'html', '') FROM jsonb_array_elements(r.document->'blocks') b
        WHERE b->>'html' IS NOT NULL), ''),
    edits = r.edits, author_id = r.author_id, saved_at = r.saved_at
FROM mail_messagerevision r WHERE r.message_id = mail_message.id AND r.state = 'live';
SET CONSTRAINTS ALL IMMEDIATE
"""


class Migration(migrations.Migration):
    dependencies = [("mail", "0009_revisions")]

    operations = [
        # Backwards the column comes empty, and is filled before it has to have something.
        migrations.AlterField("message", "saved_at", models.DateTimeField(null=True)),
        migrations.RunSQL(migrations.RunSQL.noop, _BACK),
        migrations.RemoveField(
            model_name='message',
            name='author',
        ),
        migrations.RemoveField(
            model_name='message',
            name='body',
        ),
        migrations.RemoveField(
            model_name='message',
            name='draft',
        ),
        migrations.RemoveField(
            model_name='message',
            name='edits',
        ),
        migrations.RemoveField(
            model_name='message',
            name='preheader',
        ),
        migrations.RemoveField(
            model_name='message',
            name='saved_at',
        ),
        migrations.RemoveField(
            model_name='message',
            name='subject',
        ),
    ]
