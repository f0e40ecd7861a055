"""Texts of messages become revisions: the live one, and the draft where there is one."""

from django.db import migrations

_BLOCKS = """
CASE WHEN {body} = '' THEN '[]'::jsonb ELSE jsonb_build_array(
    jsonb_build_object('id', 'text', 'only', NULL, 'kind', 'text', 'html', {body})) END
"""


def _document(subject: str, preheader: str, body: str) -> str:
    return (
        f"jsonb_build_object('subject', {subject}, 'preheader', {preheader}, 'language', '', "
        f"'blocks', {_BLOCKS.format(body=body)}, 'text', '', 'opens', NULL, 'clicks', NULL, "
        "'utm', '[]'::jsonb)"
    )


_LIVE = f"""
INSERT INTO mail_messagerevision
    (id, workspace_id, message_id, state, number, document, edits, author_id, note, saved_at, live_at)
SELECT gen_random_uuid(), workspace_id, id, 'live', 1,
    {_document("subject", "preheader", "body")},
    CASE WHEN draft IS NULL THEN edits ELSE 0 END, author_id, '', saved_at, saved_at
FROM mail_message
"""
_DRAFTS = f"""
INSERT INTO mail_messagerevision
    (id, workspace_id, message_id, state, number, document, edits, author_id, note, saved_at, live_at)
SELECT gen_random_uuid(), workspace_id, id, 'draft', NULL,
    {_document("draft->>'subject'", "draft->>'preheader'", "draft->>'body'")},
    edits, author_id, '', saved_at, NULL
FROM mail_message WHERE draft IS NOT NULL
"""
_SENDS = """
UPDATE mail_send SET revision_id = mail_messagerevision.id,
    domain = CASE WHEN mail_send.state = 'sent' THEN split_part(people_subscriber.address_key, '@', 2) ELSE '' END
FROM mail_messagerevision, people_subscriber
WHERE mail_messagerevision.message_id = mail_send.message_id AND mail_messagerevision.state = 'live'
    AND people_subscriber.id = mail_send.subscriber_id AND mail_send.state IN ('sent', 'unknown')
"""


class Migration(migrations.Migration):
    dependencies = [("mail", "0008_letters")]

    operations = [
        migrations.RunSQL(_LIVE, migrations.RunSQL.noop),
        migrations.RunSQL(_DRAFTS, migrations.RunSQL.noop),
        migrations.RunSQL(_SENDS, migrations.RunSQL.noop),
    ]
