"""Jobs of the doors."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.sequences.models import SequenceRevision
from server.workspaces.models import Workspace
from server.workspaces.queues import defer_lost, isolated

from .by_hand import admit
from .jobs import ADMIT
from .looking import look
from .models import Admission


@app.periodic(cron="* * * * * */15")
@app.task(
    queue="sequences", name="doors.look_at_all", queueing_lock="doors.look_at_all", lock="doors"
)
def look_at_all(timestamp: int) -> None:
    """Let in who is due at the doors of every workspace that has a live sequence."""
    live = SequenceRevision.everywhere.filter(state=SequenceRevision.State.LIVE)
    for workspace in Workspace.objects.filter(pk__in=live.values("workspace")):
        isolated(look, workspace)


@app.task(queue=ADMIT.queue, name=ADMIT.name, retry=RetryStrategy(max_attempts=5, wait=2))
def admit_people(admission_id: str) -> None:
    """Let in everybody whom a member's condition fits."""
    admit(admission_id)


@app.periodic(cron="*/1 * * * *")
@app.task(queue="sequences", name="doors.find_lost", queueing_lock="doors.find_lost")
def find_lost(timestamp: int) -> None:
    """Give admissions that have lost their job another one."""
    defer_lost(ADMIT, Admission.everywhere.filter(state=Admission.State.WORKING))
