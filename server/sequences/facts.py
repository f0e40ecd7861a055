"""What exists in a workspace, and people with the sequences they have been in, for the core."""

from collections.abc import Iterable
from functools import lru_cache
from uuid import UUID

from core.people import Catalogue, SequenceFacts
from core.sequences import SequenceDocument
from server.mail.models import Message
from server.mail.senders import OwnSending, Sender
from server.people.facts import fields_of
from server.people.models import FrozenGroup, MailingList, Tag
from server.services.facts import services_of
from server.workspaces.among import among
from server.workspaces.models import Member, Revision, Workspace

from .models import Sequence, SequenceRevision


@lru_cache(maxsize=512)
def document_of_revision(revision_id: str) -> SequenceDocument:
    """The document of a revision that has been live, which never changes."""
    return SequenceDocument.model_validate(SequenceRevision.everywhere.get(pk=revision_id).document)


def catalogue_of(workspace: Workspace) -> Catalogue:
    """What documents of this workspace may refer to, as of its latest change."""
    return _catalogue(workspace.pk, workspace.catalogue_version)


@lru_cache(maxsize=128)
def _catalogue(workspace_id: UUID, version: UUID) -> Catalogue:
    workspace = Workspace(pk=workspace_id, catalogue_version=version)
    country = Workspace.objects.values_list("country", flat=True).get(pk=workspace_id)
    members = Member.objects.filter(workspace=workspace).select_related("user").order_by("pk")
    return Catalogue(
        fields=fields_of(workspace),
        tags={str(one.pk): one.name for one in Tag.objects.of(workspace).order_by("folded")},
        lists={
            str(one.pk): one.name for one in MailingList.objects.of(workspace).order_by("folded")
        },
        sequences=_sequences_of(workspace),
        messages={
            str(pk): name
            for pk, name in Message.objects.of(workspace).order_by("name").values_list("pk", "name")
        },
        groups={
            str(pk): name
            for pk, name in FrozenGroup.objects.of(workspace)
            .order_by("name")
            .values_list("pk", "name")
        },
        country=country,
        members={str(one.pk): one.user.name or one.user.email for one in members},
        services=services_of(workspace_id),
        confirmed_lists=frozenset(
            str(pk)
            for pk in MailingList.objects.of(workspace)
            .filter(confirms=True)
            .values_list("pk", flat=True)
        ),
    )


def _sequences_of(workspace: Workspace) -> dict[str, SequenceFacts]:
    newest: dict[str, SequenceDocument] = {}
    revisions = SequenceRevision.objects.of(workspace).exclude(state=Revision.State.PAST)
    # The live revision counts where there is one: runs go by it, whatever the draft says.
    for revision in revisions.order_by("state"):
        newest[str(revision.sequence_id)] = SequenceDocument.model_validate(revision.document)
    found = {}
    for one in Sequence.objects.of(workspace).order_by("name"):
        document = newest.get(str(one.pk), SequenceDocument())
        found[str(one.pk)] = SequenceFacts(
            id=str(one.pk),
            name=one.name,
            live=one.state != Sequence.State.DRAFT,
            lanes={lane.id: lane.name for lane in document.lanes},
            list_id=document.list,
            again=document.again_at(None),
            doors=document.doors_of_routes(),
        )
    return found


def senders_of(workspace: Workspace, sequences: Iterable[UUID]) -> dict[UUID, Sender]:
    """Who the emails of these sequences are from, by what is live of each; what is empty says nothing."""
    return {
        sequence: sender_of_document(document)
        for sequence, document in _live_documents(workspace, sequences).items()
    }


def own_sending_of(workspace: Workspace, sequences: Iterable[UUID]) -> dict[UUID, OwnSending]:
    """When these sequences send, and with which priority, by what is live of each."""
    return {
        sequence: OwnSending(document.times, document.priority)
        for sequence, document in _live_documents(workspace, sequences).items()
    }


def _live_documents(
    workspace: Workspace, sequences: Iterable[UUID]
) -> dict[UUID, SequenceDocument]:
    rows = SequenceRevision.objects.of(workspace).filter(
        among("sequence", sequences), state=Revision.State.LIVE
    )
    return {
        sequence: document_of_revision(str(pk))
        for sequence, pk in rows.values_list("sequence_id", "pk")
    }


def sender_of_document(document: SequenceDocument) -> Sender:
    """Who the emails of a sequence are from, as far as it says so itself."""
    own = document.sender
    return Sender(own.name, own.address, own.reply_to)
