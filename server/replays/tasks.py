"""Jobs of replays."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.workspaces.models import Workspace
from server.workspaces.queues import defer_lost

from . import replays
from .jobs import REPLAY
from .models import Replay
from .replays import forget_lines

_TRIES = 5


@app.task(queue=REPLAY.queue, name=REPLAY.name, retry=RetryStrategy(max_attempts=_TRIES, wait=2))
def work_on_replay(replay_id: str) -> None:
    """Look at, run or undo a replay; after a crash it goes on where it was."""
    replays.work_on(replay_id)


@app.periodic(cron="*/1 * * * *")
@app.task(queue="routing", name="replays.find_lost", queueing_lock="replays.find_lost")
def find_lost(timestamp: int) -> None:
    """Give replays that have lost their job another one."""
    defer_lost(REPLAY, Replay.everywhere.filter(state__in=("looking", "running", "undoing")))


@app.periodic(cron="21 * * * *")
@app.task(queue="files", name="replays.forget", queueing_lock="replays.forget")
def forget(timestamp: int) -> None:
    """Remove lines of replays that are over their retention time."""
    for workspace in Workspace.objects.all():
        forget_lines(workspace)
