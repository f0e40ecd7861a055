"""An email to a member about somebody who came in: the answers, readable at a glance."""

from django.conf import settings
from django.template.loader import render_to_string

from core.reading import Form, shown_answers
from server.mail.compose import notice
from server.people.models import Subscriber
from server.sources.actions import route_of_revision
from server.submissions.models import Submission
from server.workspaces import clock
from server.workspaces.models import Member


def tell(submission_id: str, person_id: str, member_id: str) -> None:
    """Tell one member, who is still one of the workspace, by its mail server."""
    submission = Submission.everywhere.select_related("workspace", "source").get(pk=submission_id)
    workspace = submission.workspace
    member = Member.objects.filter(workspace=workspace, pk=member_id).select_related("user").first()
    if member is None or not workspace.sender_address:
        return
    person = Subscriber.everywhere.filter(pk=person_id).first()
    address = person.address if person else "somebody"
    shown = submission.shown_id or submission.revision_id
    form = route_of_revision(str(shown)).form if shown else Form()
    answers = tuple((name, text) for name, text in submission.answers)
    at = f"{settings.PUBLIC_ADDRESS}/w/{workspace.slug}"
    context = {
        "address": address,
        "source": submission.source.name,
        "answers": shown_answers(form, answers),
        "person_at": f"{at}/people/{person_id}",
        "submission_at": f"{at}/submissions/{submission_id}",
    }
    mail = notice(
        workspace.sender_name,
        workspace.sender_address,
        member.user.email,
        f"{submission.source.name}: {address}",
        clock.now(workspace),
        render_to_string("routing/notice.txt", context),
        render_to_string("routing/notice.html", context),
    )
    mail.send()
