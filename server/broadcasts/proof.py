"""That every marketing email was allowed: each keeps the membership and the entry of evidence that did, and a
job compares them."""

from datetime import datetime, timedelta

from django.db.models import Exists, Min, OuterRef, QuerySet

from server.mail.deciding import marketing
from server.mail.models import Send
from server.people.models import Evidence
from server.snags.actions import report
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.models import Workspace


def unproven(workspace: Workspace, since: datetime, until: datetime) -> QuerySet[Send]:
    """Marketing that went out, and that no entry of its person's evidence allowed: none is named, or the one
    that is named is not there, is somebody else's or says something else."""
    kept = Send.objects.of(workspace).exclude(evidence="")
    first = kept.aggregate(first=Min("handed_at"))["first"]
    allowed = Evidence.objects.of(workspace).filter(
        hash=OuterRef("evidence"),
        membership__subscriber=OuterRef("subscriber"),
        membership__list=OuterRef("list"),
        after="subscribed",
    )
    rows: QuerySet[Send] = marketing(workspace).filter(
        state=Send.State.SENT, sent_at__gte=since, sent_at__lt=until
    )
    # Those from before anything was kept are passed over.
    rows = rows.filter(handed_at__gte=first) if first else rows.none()
    return rows.exclude(Exists(allowed))


def report_unproven(workspace: Workspace) -> int:
    """Tell members of emails of the last day that nothing allowed; how many."""
    now = clock.now(workspace)
    found = list(
        unproven(workspace, now - timedelta(days=1), now).select_related("subscriber", "message")
    )
    for send in found:
        report(
            workspace,
            Snag.About.SEND,
            f"unproven/{send.message_id}",
            f"“{send.message.name}” went to {send.subscriber.address}, and no consent of theirs is on record "
            "that allowed it.",
            "Look at their trail and at the server's log: nothing in Yalla sends marketing without it.",
            {"subscriber": str(send.subscriber_id), "send": str(send.pk)},
        )
    return len(found)
