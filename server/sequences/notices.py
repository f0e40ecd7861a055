"""An email to a member about somebody who came to a step that tells them."""

from django.conf import settings
from django.template.loader import render_to_string

from server.mail.compose import notice
from server.people.models import Subscriber
from server.workspaces import clock
from server.workspaces.models import Member

from .facts import catalogue_of, document_of_revision
from .models import Run


def tell(sequence_id: str, person_id: str, run_id: str, member_id: str) -> None:
    """Tell one member, who is still one of the workspace, by its mail server."""
    run = Run.everywhere.select_related("workspace", "sequence").filter(pk=run_id).first()
    person = Subscriber.everywhere.filter(pk=person_id).first()
    if run is None or person is None:
        return
    workspace = run.workspace
    member = Member.objects.filter(workspace=workspace, pk=member_id).select_related("user").first()
    if member is None or not workspace.sender_address:
        return
    document = document_of_revision(str(run.revision_id))
    step = next((one for one in document.steps if one.id == run.step), None)
    at = f"{settings.PUBLIC_ADDRESS}/w/{workspace.slug}"
    context = {
        "address": person.address,
        "sequence": run.sequence.name,
        "step": step.heading(catalogue_of(workspace)) if step else "a step",
        "answers": run.answers,
        "person_at": f"{at}/people/{person_id}",
        "sequence_at": f"{at}/sequences/{sequence_id}",
    }
    mail = notice(
        workspace.sender_name,
        workspace.sender_address,
        member.user.email,
        f"{run.sequence.name}: {person.address}",
        clock.now(workspace),
        render_to_string("sequences/notice.txt", context),
        render_to_string("sequences/notice.html", context),
    )
    mail.send()
