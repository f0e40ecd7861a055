"""Why did you write to me? The answer for one email: what was agreed to, when and where, what confirmed it, and
the email itself."""

from collections.abc import Iterator

from server.mail.models import Send
from server.people.chain import broken_chains
from server.people.models import Evidence, Membership
from server.workspaces import clock
from server.workspaces.shapes import Json


def why_of(send: Send) -> Json:
    """The answer, as it is shown and signed."""
    workspace, entry = send.workspace, _entry(send)
    membership = Membership.objects.of(workspace).filter(pk=send.allowed_by).first()
    domain = (send.list and send.list.sender_address) or workspace.sender_address
    return {
        "made": clock.now(workspace).isoformat(),
        "by": workspace.sender_name or workspace.name,
        "postal_address": workspace.postal_address,
        "email": {
            "to": send.subscriber.address,
            "subject": send.subject or send.message.name,
            "sent": send.sent_at.isoformat() if send.sent_at else None,
            "state": send.state,
            "message_id": f"<{send.pk}@{domain.rpartition('@')[2]}>",
            "list": send.list.shown_name if send.list else None,
        },
        "because": send.because["sentence"],
        "asked_for": send.asked_for,
        "allowed_by": _agreed(entry) if entry else None,
        "until_then": [_agreed(one) for one in _until(entry)] if entry else [],
        "evidence_holds": _holds(membership) if membership else None,
    }


def _entry(send: Send) -> Evidence | None:
    """The entry of evidence that allowed it."""
    if not send.evidence:
        return None
    rows = Evidence.objects.of(send.workspace).filter(hash=send.evidence)
    found: Evidence | None = rows.filter(membership__subscriber=send.subscriber_id).first()
    return found


def _until(entry: Evidence) -> Iterator[Evidence]:
    """What had become of the membership up to that entry, from the first on."""
    rows = Evidence.objects.of(entry.workspace).filter(chain=entry.chain, number__lte=entry.number)
    yield from rows.order_by("number")


def _agreed(one: Evidence) -> Json:
    return {
        "at": one.at.isoformat(),
        "from": one.before,
        "to": one.after,
        "wording": one.wording,
        "page": one.page,
        "network_address": one.ip,
        "because": one.because.get("sentence", ""),
        "source": one.because.get("source_name"),
        "number": one.number,
        "hash": one.hash,
    }


def _holds(membership: Membership) -> bool:
    """Whether nobody has changed the evidence since."""
    return not any(True for _ in broken_chains(membership.workspace, [membership.pk]))
