"""The jobs of this room; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

SEND = Job("notices.send", "mail")
