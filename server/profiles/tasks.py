"""Jobs that change whole people."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.people.models import OwnRequest, Subscriber
from server.routing.jobs import CHANGE_ADDRESS, ERASE
from server.workspaces.models import Workspace

from .addresses import carry_out_request
from .erasing import erase
from .merges import forget_merges

_TRIES = 5


@app.task(
    queue=ERASE.queue,
    name=ERASE.name,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def erase_person(person_id: str) -> None:
    """Erase somebody whom a source says to erase."""
    person = Subscriber.everywhere.select_related("workspace").filter(pk=person_id).first()
    if person is not None:
        erase(person)


@app.task(
    queue=CHANGE_ADDRESS.queue,
    name=CHANGE_ADDRESS.name,
    retry=RetryStrategy(max_attempts=_TRIES, exponential_wait=2),
)
def change_address_of(request_id: str) -> None:
    """Give somebody the address that a source says."""
    row = OwnRequest.everywhere.select_related("workspace", "subscriber")
    found = row.filter(pk=request_id, done_at=None).first()
    if found is not None:
        carry_out_request(found)


@app.periodic(cron="23 * * * *")
@app.task(queue="routing", name="profiles.forget", queueing_lock="profiles.forget")
def forget(timestamp: int) -> None:
    """Remove what undoing a merge needs, once its day is over."""
    for workspace in Workspace.objects.all():
        forget_merges(workspace)
