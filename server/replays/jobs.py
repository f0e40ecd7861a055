"""The job of a replay; what it does is in `tasks.py`."""

from server.workspaces.queues import Job

REPLAY = Job("replays.work_on_replay", "files", "replay/", "replay_id")
