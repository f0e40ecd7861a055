"""A described service: a document that says how to speak to an outside program over HTTP.

Whoever knows HTTP can write one. Requests are JSON with tokens (`templates.py`), answers are read by
JMESPath (`answers.py`). What a token can name:

- `person`: what the map made of somebody, by the keys of the fields over there; `pairs`: the same as a
  list of objects with `field` and `value`; `address`; `address_before`, where it changed
- `now`: the moment, as ISO 8601
- `id`: whoever was found over there; `chosen`: what was chosen, by name (a list, a stage)
- `options.update`, `options.confirm`; `key`: the idempotency key; `test`: whether it is one
- `field.key`, `field.label`, `field.type`, `field.choices`: of a field that is made
- `cursor`, `page`: of what is read in pages; `event`: of a row that an event appends
"""

from collections.abc import Iterator, Mapping
from typing import Annotated, Literal

from pydantic import Field, JsonValue

from ..documents import Frozen
from .fields import FarField, FieldsRead

Method = Literal["GET", "POST", "PUT", "PATCH", "DELETE", "PROPFIND"]
Does = Literal[
    "save_person",
    "subscribe",
    "unsubscribe",
    "tag",
    "untag",
    "erase",
    "make_deal",
    "enrol",
    "append_row",
    "record_event",
]
HARMLESS_TWICE: frozenset[Does] = frozenset(
    {"save_person", "subscribe", "unsubscribe", "tag", "untag", "erase"}
)
"""What is the same when it is done twice: a second time may follow where nobody knows of the first."""
Text = Annotated[str, Field(max_length=2_000)]
Name = Annotated[str, Field(max_length=80)]


class Call(Frozen):
    """One request."""

    method: Method = "GET"
    path: Text = "/"
    """Below the base address; tokens in it are encoded."""
    query: Mapping[str, Text] = {}
    headers: Mapping[str, Text] = {}
    body: JsonValue = None
    format: Literal["json", "form", "vcard"] = "json"
    """How the body goes: as JSON, as a form (application/x-www-form-urlencoded), or as a vCard of its
    properties (RFC 6350)."""


class NoSignIn(Frozen):
    """Nothing is asked for."""

    kind: Literal["none"] = "none"


class KeySignIn(Frozen):
    """A key, in a header or a parameter of the address."""

    kind: Literal["key"] = "key"
    place: Literal["header", "query"] = "header"
    name: Name = "Authorization"
    before: Annotated[str, Field(max_length=40)] = ""
    """What stands before the key: `Bearer `."""


class BasicSignIn(Frozen):
    """A name and a password (RFC 7617)."""

    kind: Literal["basic"] = "basic"


class CodeSignIn(Frozen):
    """OAuth 2.0: a member agrees over there (authorisation code, RFC 6749 4.1, with PKCE, RFC 7636)."""

    kind: Literal["oauth_code"] = "oauth_code"
    agree_at: Text
    """Where the member agrees: an address, or a path below the base address."""
    token_at: Text
    scopes: tuple[Name, ...] = ()


class ClientSignIn(Frozen):
    """OAuth 2.0: the program signs in by itself (client credentials, RFC 6749 4.4)."""

    kind: Literal["oauth_client"] = "oauth_client"
    token_at: Text
    scopes: tuple[Name, ...] = ()


class SignedSignIn(Frozen):
    """Each request is signed by the Standard Webhooks specification."""

    kind: Literal["signed"] = "signed"


SignIn = Annotated[
    NoSignIn | KeySignIn | BasicSignIn | CodeSignIn | ClientSignIn | SignedSignIn,
    Field(discriminator="kind"),
]


class Paging(Frozen):
    """How a long answer comes in parts."""

    next: Text = ""
    """Where the cursor of the next part stands; empty there: that was the last."""
    parameter: Name = "cursor"


class Thing(Frozen):
    """One thing over there: a list, a tag, a stage."""

    id: str
    label: str


class ThingKind(Frozen):
    """A kind of thing over there: how it is read, and made."""

    kind: Name
    """Its name in `needs`: list, tag, stage, course, sheet."""
    label: Name
    """As people read it, in the singular."""
    read: Call
    items: Text = "@"
    id: Text = "id"
    name: Text = "name"
    paging: Paging | None = None
    make: Call | None = None
    """With `thing.label`."""


class Need(Frozen):
    """What a member chooses for an operation."""

    name: Name
    """`chosen.NAME` in requests."""
    kind: Name
    """Of the things over there."""
    label: Name
    several: bool = False
    optional: bool = False


class AnswerMeaning(Frozen):
    """An answer that means something of its own."""

    status: int | None = None
    """None: whatever it is."""
    where: Text = ""
    """An expression that is true of the answer; empty: always."""
    means: Literal["done", "not_possible", "again"]
    """`not_possible`: a condition that only the other side knows, and no error."""
    sentence: Annotated[str, Field(max_length=200)] = ""


class Look(Frozen):
    """Looking whether something is there already, before it is tried a second time."""

    call: Call
    there: Text
    """An expression that is true where it is there."""
    id: Text = ""


class Operation(Frozen):
    """Something that can be done over there."""

    key: Name
    does: Does
    label: Name
    """A verb and what it is done to: Add to a list."""
    call: Call
    needs: tuple[Need, ...] = ()
    fields: bool = True
    """Whether it takes the mapped fields."""
    required: tuple[Name, ...] = ()
    """Fields that this operation requires besides those that are required anyway."""
    id: Text = ""
    """Where the id of what was made stands in the answer."""
    look: Look | None = None
    outcomes: tuple[AnswerMeaning, ...] = ()
    marketing: bool = False
    """Whether people get marketing by it over there: only subscribers are handed over."""
    options: tuple[Literal["update", "confirm"], ...] = ()
    batch: "Batch | None" = None


class Batch(Frozen):
    """The same for many people in one request: `{{ many }}` is a list of what each would have sent."""

    call: Call
    most: int = Field(default=100, ge=2, le=1000)
    results: Text = ""
    """A list in the order of the people; empty: all have the answer's status."""
    status: Text = "status"
    """Of one result: its HTTP status."""


class HeardKind(Frozen):
    """A kind of event that comes from there."""

    type: Name
    """As it is called over there."""
    label: Name
    event: Name
    """What it is called here, as conditions name it: bought, booked."""
    data: Mapping[Name, Text] = {}
    """What is kept of it, by name: expressions on the event."""
    fields: Mapping[Name, Text] = {}
    """Suggested: a field over there by its key, and where its value stands."""
    leaves: bool = False
    """Whether it says that somebody left marketing over there."""


class Hearing(Frozen):
    """What the service tells of itself."""

    signed: Literal["standard", "none"] = "standard"
    """By the Standard Webhooks specification, or by the secret address alone."""
    type: Text = "type"
    id: Text = "id"
    at: Text = "timestamp"
    address: Text = "data.email"
    kinds: tuple[HeardKind, ...] = ()


class Polling(Frozen):
    """Events that are asked for every some minutes."""

    read: Call
    """With `cursor`: where the last look ended, empty at first."""
    items: Text = "items"
    next: Text = "next"
    """The cursor for the next look."""
    more: Text = ""
    """True where there is more to read at once."""


class ServiceDescription(Frozen):
    """How to speak to an outside program."""

    name: Name = ""
    about: Annotated[str, Field(max_length=300)] = ""
    base: Text = ""
    """The address that all paths stand below."""
    sign_in: SignIn = NoSignIn()
    who: Call = Call()
    """Asked to try a connection."""
    who_name: Text = ""
    """Where the account's name stands."""
    error: Text = ""
    """Where an error's sentence stands."""
    answers: Literal["json", "any"] = "json"
    """Whether a success has to be JSON."""
    per_minute: int | None = Field(default=None, ge=1, le=100_000)
    """Requests that it takes in a minute."""
    idempotency_header: Name = ""
    fixed_fields: tuple[FarField, ...] = ()
    fields: Call | None = None
    read_fields: FieldsRead = FieldsRead()
    fields_paging: Paging | None = None
    make_field: Call | None = None
    find: Look | None = None
    """Whether it has somebody, by `address`."""
    find_values: Text = ""
    """Where their values stand in that answer, by key."""
    things: tuple[ThingKind, ...] = ()
    operations: tuple[Operation, ...] = ()
    see: Text = ""
    """The address of a page where somebody can be seen over there."""
    hearing: Hearing | None = None
    polling: Polling | None = None

    def operation(self, key: str) -> Operation | None:
        """An operation by its key."""
        return next((one for one in self.operations if one.key == key), None)

    def heard_kind(self, kind: str) -> "HeardKind | None":
        """A kind of event by its type."""
        kinds = self.hearing.kinds if self.hearing else ()
        return next((one for one in kinds if one.type == kind), None)

    def doing(self, does: Does) -> Operation | None:
        """The first operation that does this."""
        return next((one for one in self.operations if one.does == does), None)

    def thing(self, kind: str) -> ThingKind | None:
        """A kind of thing by its name."""
        return next((one for one in self.things if one.kind == kind), None)

    def calls(self) -> Iterator[tuple[str, Call]]:
        """All requests, each with where it stands."""
        yield "who", self.who
        if self.fields:
            yield "fields", self.fields
        if self.make_field:
            yield "make_field", self.make_field
        if self.find:
            yield "find", self.find.call
        for kind in self.things:
            yield f"things/{kind.kind}", kind.read
            if kind.make:
                yield f"things/{kind.kind}/make", kind.make
        for one in self.operations:
            yield f"operations/{one.key}", one.call
            if one.look:
                yield f"operations/{one.key}/look", one.look.call
            if one.batch:
                yield f"operations/{one.key}/batch", one.batch.call
        if self.polling:
            yield "polling", self.polling.read

    def paths(self) -> Iterator[tuple[str, str]]:
        """All expressions, each with where it stands."""
        read = self.read_fields
        for name in FieldsRead.model_fields.keys() - {"types"}:
            yield f"read_fields/{name}", getattr(read, name)
        if self.fields_paging:
            yield "fields_paging", self.fields_paging.next
        yield "who_name", self.who_name
        yield "error", self.error
        yield "find_values", self.find_values
        if self.find:
            yield "find", self.find.there
            yield "find", self.find.id
        for kind in self.things:
            yield from ((f"things/{kind.kind}", one) for one in (kind.items, kind.id, kind.name))
            if kind.paging:
                yield f"things/{kind.kind}", kind.paging.next
        for one in self.operations:
            at = f"operations/{one.key}"
            yield at, one.id
            yield from ((at, outcome.where) for outcome in one.outcomes)
            if one.look:
                yield at, one.look.there
                yield at, one.look.id
            if one.batch:
                yield at, one.batch.results
                yield at, one.batch.status
        if self.hearing:
            heard = self.hearing
            yield from (("hearing", one) for one in (heard.type, heard.id, heard.at, heard.address))
            for event in heard.kinds:
                for path in (*event.data.values(), *event.fields.values()):
                    yield f"hearing/{event.type}", path
        if self.polling:
            yield "polling", self.polling.items
            yield "polling", self.polling.next
            yield "polling", self.polling.more
