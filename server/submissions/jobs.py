"""The job that routes a submission; what it does is in `routing/tasks.py`."""

from server.workspaces.queues import Job

ROUTE = Job("routing.route_one", "routing", "route/", "submission_id")
