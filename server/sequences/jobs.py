"""The jobs of the sequences; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

ADVANCE_DUE = Job("sequences.advance_due", "sequences")
LISTEN = Job("sequences.listen", "sequences", "signals/", "workspace_id")
AHEAD = Job("sequences.look_ahead", "files", "ahead/", "workspace_id")
TELL_MEMBER = Job("sequences.tell_member", "mail")
