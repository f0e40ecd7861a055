"""Jobs of the mail room."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from .deliver import deliver, settle_abandoned
from .models import Send


@app.task(
    queue="mail",
    name="mail.deliver_send",
    # What the mail server says is dealt with there; this is for a database that is away.
    retry=RetryStrategy(max_attempts=8, exponential_wait=4),
)
def deliver_send(send_id: str) -> None:
    """Hand one send over; try again later where the mail server asks for it."""
    wait = deliver(send_id)
    if wait is not None:
        deliver_send.configure(schedule_in={"seconds": int(wait.total_seconds())}).defer(
            send_id=send_id
        )


@app.task(
    queue="mail",
    name="mail.send_own_request",
    retry=RetryStrategy(max_attempts=5, exponential_wait=5),
)
def send_own_request(request_id: str) -> None:
    """Send somebody the link that confirms what they asked for."""
    from .own_requests import send_link

    send_link(request_id)


@app.periodic(cron="* * * * * */15")
@app.task(queue="mail", name="mail.settle_abandoned", queueing_lock="mail.settle_abandoned")
def settle_abandoned_sends(timestamp: int) -> None:
    """Find sends whose worker died while the mail server had them."""
    for pk in Send.everywhere.filter(state=Send.State.HANDING_OVER).values_list("pk", flat=True)[
        :500
    ]:
        settle_abandoned(str(pk))
