"""The whole record of a person: with what they sent, and what was sent to them."""

from server.people.models import Subscriber
from server.people.record import record_of
from server.workspaces.shapes import Json


def whole_record(subscriber: Subscriber) -> Json:
    """Everything known about a person, also what came in and what went out."""
    submissions = subscriber.submissions.select_related("source").order_by("received_at", "pk")
    sends = subscriber.sends.select_related("message").order_by("queued_at", "pk")
    return {
        **record_of(subscriber),
        "submissions": [
            {
                "at": one.received_at.isoformat(),
                "source": one.source.name,
                "answers": [{"name": name, "text": text} for name, text in one.answers],
                "context": one.context,
            }
            for one in submissions.defer("raw", "decision")
        ],
        "emails": [
            {
                "message": one.message.name,
                "subject": one.subject,
                "state": one.state,
                "at": (one.sent_at or one.queued_at).isoformat(),
                "opened": one.opened_at.isoformat() if one.opened_at else None,
                "came_back": one.came_back or None,
                "touches": [
                    {
                        "kind": touch.kind,
                        "link": touch.link,
                        "at": touch.at.isoformat(),
                        "by_a_program": touch.by == "machine",
                    }
                    for touch in one.touches.all()
                    if touch.kind != "trap"
                ],
            }
            for one in sends.prefetch_related("touches")
        ],
        "handed_over": [
            {
                "service": one.service.name,
                "what": one.operation,
                "state": one.state,
                "at": (one.done_at or one.created_at).isoformat(),
            }
            for one in subscriber.handoffs.select_related("service").order_by("pk")
        ],
        "came_back": [
            {"kind": one.kind, "at": one.at.isoformat(), "reason": one.reason}
            for one in subscriber.returned.order_by("at", "pk")
        ],
    }
