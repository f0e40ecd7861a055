"""The jobs of the doors; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

ADMIT = Job("doors.admit", "files", "admission/", "admission_id")
