from django.db import migrations, models
from django.db.models import Q

# Emails have no job each any more; what is due is found by itself.
_OLD_JOBS = """
DELETE FROM procrastinate_jobs
WHERE task_name IN ('mail.deliver_send', 'mail.find_lost') AND status IN ('todo', 'doing')
"""


class Migration(migrations.Migration):
    dependencies = [
        ("mail", "0011_reply_mailbox"),
        ("procrastinate", "0001_initial"),
    ]

    operations = [
        migrations.AddIndex(
            model_name="send",
            index=models.Index(
                fields=["workspace", "-asked_for", "queued_at"],
                condition=Q(state="queued"),
                name="send_due",
            ),
        ),
        migrations.RunSQL(_OLD_JOBS, migrations.RunSQL.noop),
    ]
