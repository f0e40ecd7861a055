"""What the demo's sources, lists and sequences are made with: the workspace and its names."""

from dataclasses import dataclass, field

from core.messages import Block, MessageDocument, TextBlock
from core.sequences import SequenceDocument
from core.values import Choice
from server.mail.editing import make_message, save_message
from server.mail.models import Message
from server.people.actions import make_field, make_list, make_tag
from server.people.models import Field, MailingList
from server.sequences import actions as sequences
from server.sequences.models import Sequence
from server.services.models import Service
from server.workspaces.models import Member, Workspace

INTERESTS = (
    Choice(key="moon", label="Moon"),
    Choice(key="planets", label="Planets"),
    Choice(key="deep-sky", label="Deep sky", synonyms=("galaxies", "nebulae")),
    Choice(key="aurora", label="Aurora"),
)


@dataclass
class House:
    """The observatory's workspace, with what was made in it, by name."""

    workspace: Workspace
    member: Member
    outside: str
    lists: dict[str, MailingList] = field(default_factory=dict)
    fields: dict[str, str] = field(default_factory=dict)
    """Ids of the fields, by key."""
    tags: dict[str, str] = field(default_factory=dict)
    """Ids of the tags, by name."""
    services: dict[str, Service] = field(default_factory=dict)
    """The connections, by name."""
    pictures: dict[str, str] = field(default_factory=dict)
    """Ids of the pictures, by name."""

    def list(self, name: str, description: str = "") -> MailingList:
        """The list of this name, made where it is missing."""
        if name not in self.lists:
            self.lists[name] = make_list(self.workspace, name, description)
        return self.lists[name]

    def field(self, label: str, kind: str, choices: tuple[Choice, ...] = ()) -> None:
        """Make a field."""
        made = make_field(self.workspace, label, kind, choices)
        self.fields[made.key] = str(made.pk)

    def tag(self, name: str) -> str:
        """The id of the tag of this name, made where it is missing."""
        if name not in self.tags:
            self.tags[name] = str(make_tag(self.workspace, name).pk)
        return self.tags[name]

    def know_fields(self) -> None:
        """Learn the fields that every workspace has."""
        for one in Field.objects.of(self.workspace):
            self.fields[one.key] = str(one.pk)

    def message(self, name: str, subject: str, preheader: str, *blocks: Block | str) -> Message:
        """Make a message; a block that is a text is one of HTML."""
        row = make_message(self.workspace, name, self.member)
        made = tuple(
            TextBlock(id=f"b{number}", html=one) if isinstance(one, str) else one
            for number, one in enumerate(blocks, start=1)
        )
        document = MessageDocument(subject=subject, preheader=preheader, blocks=made)
        save_message(row, document, None, self.member)
        return row

    def sequence(self, name: str, document: SequenceDocument, note: str) -> Sequence:
        """Make a sequence, and turn it on."""
        made = sequences.make_sequence(self.workspace, name, self.member)
        sequences.save_sequence_draft(made, document, 1, self.member)
        sequences.turn_on(made, self.member, note)
        return made
