"""The job of a broadcast; what it does is in `tasks.py`."""

from server.workspaces.queues import Job

GO_ON = Job("broadcasts.go_on", "files", "broadcast/", "broadcast_id")
