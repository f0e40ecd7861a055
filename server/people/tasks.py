"""Jobs of the people."""

from procrastinate.contrib.django import app

from server.workspaces.partitions import make_months

from .journal import write_heads
from .models import Fact


@app.periodic(cron="*/5 * * * *")
@app.task(queue="files", name="people.write_heads", queueing_lock="people.write_heads")
def write_heads_of_evidence(timestamp: int) -> None:
    """Note in the journal how far the chains of evidence have come."""
    write_heads()


@app.periodic(cron="23 3 * * *")
@app.task(queue="files", name="people.make_months", queueing_lock="people.make_months")
def make_trail_months(timestamp: int) -> None:
    """Have the parts of the trail ready that the next months need."""
    make_months(Fact._meta.db_table)
