"""What the API of services takes and gives."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Schema

from core.documents import Finding, Problem
from core.services import (
    FarField,
    FarType,
    Handover,
    HeardRule,
    ServiceDescription,
    SignIn,
    Thing,
)
from server.submissions.schemas import Answer
from server.workspaces.forms import Based, Versioned
from server.workspaces.shapes import Json

from .concerns import Concern


class KindLine(Schema):
    """A description that ships."""

    key: str
    name: str
    about: str
    base: str
    needs_address: bool
    """Whether the member says where it is."""
    sign_in: SignIn
    hands_over: bool
    hears: bool


class ServiceLine(Schema):
    id: UUID
    name: str
    purpose: str
    kind: str
    state: str
    trouble: str
    account: str
    handed: int
    """In the last 30 days."""
    failed: int
    waiting: int
    handed_at: datetime | None
    heard_at: datetime | None
    hands_over: bool
    hears: bool


class ServiceUse(Schema):
    kind: str
    id: str
    name: str
    live: bool


class HeardKindOut(Schema):
    """A kind of event, and what it changes here."""

    type: str
    label: str
    event: str
    data: list[str]
    fields: list[str]
    leaves: bool
    sample: list[Answer]
    """What the newest event of this kind said."""


class ServiceOut(ServiceLine, Versioned):
    description: ServiceDescription
    settings: "ServiceSettings"
    fields: list[FarField]
    things: dict[str, list[Thing]]
    read_at: datetime | None
    stale: bool
    checked_at: datetime | None
    open_until: datetime | None
    has_secrets: list[str]
    """The names of the secrets that are kept; never the secrets."""
    hear_address: str
    """Empty for readers."""
    heard_kinds: list[HeardKindOut]
    poll_at: datetime | None
    uses: list[ServiceUse]


class ConnectIn(Schema):
    name: str
    purpose: str = ""
    kind: str = ""
    """A description that ships; or `description`."""
    description: ServiceDescription | None = None
    base: str = ""


class ServiceSettings(Schema):
    """What a member sets of a service."""

    name: str
    purpose: str = ""
    list_id: UUID | None = None
    passes_leaving: bool = True
    passes_erasing: bool = True
    hears_unknown: bool = False
    hears_leaving: bool = True
    poll_minutes: int = 15
    hears: dict[str, HeardRule] = {}
    """By type of event."""


class ServiceIn(ServiceSettings, Based):
    """Settings as they are saved."""


class SecretsIn(Schema):
    values: dict[str, str]


class FieldMadeIn(Schema):
    label: str
    type: FarType = "text"
    key: str = ""
    choices: list[str] = []


class ThingMadeIn(Schema):
    kind: str
    label: str


class ChangeOut(Schema):
    sentence: str


class ReadOut(Schema):
    service: ServiceOut
    changes: list[ChangeOut]


class AgreeOut(Schema):
    at: str


class AgreedIn(Schema):
    code: str
    state: str


class SecretOut(Schema):
    """Shown once, when it is made."""

    secret: str


class HandoverSampleIn(Schema):
    handover: Handover
    answers: list[Answer] = []
    values: Json = {}
    """What a sample was read into, by the key of the field."""
    person: UUID | None = None
    source: UUID | None = None
    """Whose last people are looked at as well."""
    sequence: UUID | None = None
    """The same of a sequence; the last of them is the sample, where none is given."""
    looks: bool = False
    """Whether the other side is asked what it has now."""


class FilledOut(Schema):
    line: str
    to: str
    label: str
    shown: str
    problem: Problem | None
    there: str
    """What the other side has now; empty where it does not say."""


class HandoverSampleOut(Schema):
    lines: list[FilledOut]
    problems: list[Problem]
    waits: bool
    concerns: list[Concern]
    looked_at: int
    of: str = ""
    """Whose sample it is: an address."""
    """How many of the last people were looked at."""


class HandoverTestOut(Schema):
    handoff: UUID
    done: bool
    outcome: str
    request: str
    status: int | None
    answer: str
    see: str


class AttemptOut(Schema):
    at: datetime
    what: Literal["sends", "looks"]
    request: str
    status: int | None
    answer: str
    seconds: float


class HandoffLine(Schema):
    id: UUID
    service: UUID
    service_name: str
    person: UUID | None
    address: str
    operation: str
    state: str
    outcome: str
    fault: str
    created_at: datetime
    due_at: datetime
    done_at: datetime | None
    tries: int
    is_test: bool
    because: Json


class HandoffOut(HandoffLine):
    attempts: list[AttemptOut]
    see: str


class HandoffPage(Schema):
    handoffs: list[HandoffLine]
    next: str | None


class AgainIn(Schema):
    fault: str = ""
    """Of those that failed by one cause; empty: all that failed."""


class HeardOut(Schema):
    id: UUID
    at: datetime
    type: str
    state: str
    outcome: str
    person: UUID | None
    content: object


class DescriptionCheck(Schema):
    findings: list[Finding]


class OpenApiIn(Schema):
    document: Json
