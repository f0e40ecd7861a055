"""The jobs of this room; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

HAND_OVER = Job("services.hand_over", "services", "service/", "service_id")
HEAR = Job("services.take_heard", "heard", "heard/", "workspace_id")
POLL = Job("services.poll", "polling", "poll/", "service_id")
