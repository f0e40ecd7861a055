"""The jobs of the mail room; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

DELIVER = Job("mail.deliver_send", "mail", "send/", "send_id")
OWN_REQUEST = Job("mail.send_own_request", "mail")
