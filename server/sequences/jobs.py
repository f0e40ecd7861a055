"""The jobs of the sequences; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

ADVANCE_DUE = Job("sequences.advance_due", "sequences")
