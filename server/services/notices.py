"""An email to the members who may change a workspace: a service needs a look."""

from django.conf import settings
from django.template.loader import render_to_string

from server.mail.compose import notice
from server.workspaces import clock
from server.workspaces.models import Member, Role

from .models import Service


def tell_members(service_id: str, sentence: str) -> None:
    """Tell its owners and editors, by the workspace's own sender."""
    row = Service.everywhere.select_related("workspace").filter(pk=service_id).first()
    if row is None or not row.workspace.sender_address:
        return
    workspace = row.workspace
    context = {
        "service": row.name,
        "sentence": sentence,
        "at": f"{settings.PUBLIC_ADDRESS}/w/{workspace.slug}/services/{row.pk}",
    }
    members = Member.objects.filter(workspace=workspace, role__in=(Role.OWNER, Role.EDITOR))
    for member in members.select_related("user").order_by("pk"):
        notice(
            workspace.sender_name,
            workspace.sender_address,
            member.user.email,
            f"{row.name} needs attention",
            clock.now(workspace),
            render_to_string("services/notice.txt", context),
            render_to_string("services/notice.html", context),
        ).send()
