"""Jobs of the notices to members."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.workspaces.models import Workspace

from .jobs import SEND
from .noticing import forget, notice_all
from .writing import send


@app.periodic(cron="* * * * *")
@app.task(queue="heard", name="notices.look", queueing_lock="notices.look", lock="notices.look")
def look(timestamp: int) -> None:
    """Notice in every workspace what members want to be told of."""
    for workspace in Workspace.objects.exclude(sender_address="").order_by("pk"):
        notice_all(workspace)


@app.task(queue=SEND.queue, name=SEND.name, retry=RetryStrategy(max_attempts=5, exponential_wait=5))
def send_notices(member_id: str, notices: str) -> None:
    """Tell one member of some notices of one kind."""
    send(member_id, notices.split(","))


@app.periodic(cron="41 3 * * *")
@app.task(queue="heard", name="notices.forget", queueing_lock="notices.forget")
def forget_old(timestamp: int) -> None:
    """Delete notices that nothing asks for any more."""
    forget()
