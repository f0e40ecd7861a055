"""The jobs of the mail room; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

DELIVER = Job("mail.deliver_due", "mail", "deliver/", "workspace_id")
JUDGE = Job("mail.judge_touches", "touches", "touch/", "send_id")
OWN_REQUEST = Job("mail.send_own_request", "mail")
