"""An email to a member about somebody who came in: the answers, readable at a glance."""

from email.utils import formataddr

from django.conf import settings
from django.core.mail import EmailMultiAlternatives
from django.template.loader import render_to_string

from core.forms import input_names
from server.people.models import Subscriber
from server.workspaces.models import Member

from .actions import route_of_revision
from .models import Submission


def tell(submission_id: str, person_id: str, member_id: str) -> None:
    """Tell one member, who is still one of the workspace, by its mail server."""
    submission = Submission.everywhere.select_related("workspace", "source").get(pk=submission_id)
    workspace = submission.workspace
    member = Member.objects.filter(workspace=workspace, pk=member_id).select_related("user").first()
    if member is None or not workspace.sender_address:
        return
    person = Subscriber.everywhere.filter(pk=person_id).first()
    address = person.address if person else "somebody"
    form = route_of_revision(str(submission.revision_id)).form if submission.revision_id else None
    labels = input_names(form) if form else {}
    at = f"{settings.PUBLIC_ADDRESS}/w/{workspace.slug}"
    context = {
        "address": address,
        "source": submission.source.name,
        "answers": [(labels.get(name, name), text) for name, text in submission.answers],
        "person_at": f"{at}/people/{person_id}",
        "submission_at": f"{at}/submissions/{submission_id}",
    }
    mail = EmailMultiAlternatives(
        subject=" ".join(f"{submission.source.name}: {address}".split()),
        body=render_to_string("intake/notice.txt", context),
        from_email=formataddr((workspace.sender_name, workspace.sender_address)),
        to=[member.user.email],
    )
    mail.attach_alternative(render_to_string("intake/notice.html", context), "text/html")
    mail.send()
