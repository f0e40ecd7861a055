"""Jobs of the inbound room."""

from procrastinate.contrib.django import app

from server.mail.models import ReplyMailbox

from .mailbox import look


@app.periodic(cron="*/2 * * * *")
@app.task(queue="inbound", name="inbound.read_mailboxes", queueing_lock="inbound.read_mailboxes")
def read_mailboxes(timestamp: int) -> None:
    """Take what has arrived in the mailboxes of all workspaces."""
    for row in ReplyMailbox.everywhere.select_related("workspace").order_by("pk"):
        look(row)
