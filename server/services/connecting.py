"""Connecting a service: making it, trying it, reading what it takes, making what is missing there."""

import time
from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction

from core.documents import folded
from core.services import (
    Call,
    FarField,
    FarType,
    FieldChange,
    NoSignIn,
    Paging,
    ServiceDescription,
    Thing,
    ThingKind,
    check_description,
    compare_fields,
    error_sentence,
    found,
    read_fields,
    text_at,
)
from server.people.models import MailingList
from server.snags.models import Snag
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import OWNERS, changes
from server.workspaces.models import Workspace
from server.workspaces.sealing import new_signing_secret, sealed
from server.workspaces.shapes import Json

from .calls import Answer, Line
from .facts import fields_of_service, known
from .models import Service
from .secrets import keep_secrets, secrets_of

MOST_PAGES = 50
BOTH_FOR = timedelta(days=1)
"""How long a signing secret that was replaced is good."""
STALE_AFTER = timedelta(minutes=15)
"""How old what was read may be before it is read again by itself."""


@changes("connected “{name}”", roles=OWNERS, whole=False)
def connect(
    workspace: Workspace, name: str, purpose: str, description: ServiceDescription
) -> Service:
    """Make a connection; it is tried once it has what it signs in with."""
    must_be_sound(description)
    name = " ".join(name.split())[:80]
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write what it is for.")
    row = Service(
        workspace=workspace,
        name=name,
        folded=folded(name),
        purpose=purpose.strip()[:200],
        description=description.model_dump(mode="json"),
        hear_secret=sealed(new_signing_secret()),
    )
    if description.polling:
        row.poll_at = clock.now(workspace)
    try:
        with transaction.atomic():
            row.save(force_insert=True)
    except IntegrityError:
        raise refuse(
            "exists",
            "name",
            f"There is a service named like “{name}” already.",
            "Choose another name.",
        ) from None
    catalogue_changed(workspace)
    if isinstance(description.sign_in, NoSignIn):
        try_it(row)
    return row


def must_be_sound(description: ServiceDescription) -> None:
    """Refuse a description with faults, each named."""
    wrong = tuple(check_description(description))
    if wrong:
        raise Refused("The description has faults.", wrong)


@changes("changed what “{row.name}” signs in with", roles=OWNERS, whole=False)
def set_secrets(row: Service, given: dict[str, str]) -> None:
    """Keep what it signs in with, and try it."""
    kept: Json = {name: text.strip() for name, text in given.items() if text.strip()}
    for name, text in kept.items():
        if any(ord(one) < 32 for one in text):
            raise refuse("bad_secret", name, "A key has no line breaks.", "Copy it once more.")
    before = secrets_of(row)
    if kept.get("signing") and before.get("signing"):
        # Calls carry both signatures for a while (Standard Webhooks, "Key rotation").
        kept |= {"signing_before": before["signing"], "signing_until": time.time() + 86_400}
    keep_secrets(row, {**before, **kept, "access_token": "", "expires_at": None})
    row.failures, row.open_until = 0, None
    row.save(update_fields=["secret", "failures", "open_until"])
    try_it(row)


@changes("tried “{row.name}”", whole=False)
def try_again(row: Service) -> None:
    """Sign in and read what there is, once more."""
    try_it(row)


@changes("changed the description of “{row.name}”", roles=OWNERS, whole=False)
def describe(row: Service, description: ServiceDescription) -> None:
    """Speak to it by another description from now on, and try it."""
    must_be_sound(description)
    row.description = description.model_dump(mode="json")
    row.poll_at = clock.now(row.workspace) if description.polling else None
    row.save(update_fields=["description", "poll_at"])
    catalogue_changed(row.workspace)
    try_it(row)


def try_it(row: Service) -> None:
    """Sign in and read what there is; what comes of it stands in the row."""
    described = ServiceDescription.model_validate(row.description)
    with Line(row) as line:
        answer = line.ask(described.who, known())
        now = clock.now(row.workspace)
        row.checked_at = now
        wrong = trouble_with(answer, described)
        if wrong:
            row.trouble = wrong[:300]
            if row.state != Service.State.PAUSED:
                row.state = Service.State.NEEDS_LOOK
            row.save(update_fields=["checked_at", "trouble", "state"])
            return
        row.account = text_at(described.who_name, answer.json)[:120]
        row.failures, row.open_until, row.trouble = 0, None, ""
        if row.state != Service.State.PAUSED:
            row.state = Service.State.WORKING
        row.save(
            update_fields=["checked_at", "account", "failures", "open_until", "trouble", "state"]
        )
        _read(row, described, line, now)
    _close_snags(row)


def trouble_with(answer: Answer, described: ServiceDescription) -> str:
    """What is wrong with an answer that should have worked, in words; empty where nothing is."""
    if answer.error:
        return answer.error
    if answer.status is not None and 200 <= answer.status < 300:
        return ""
    sentence = error_sentence(described, answer.headers, answer.json)
    if answer.status in (401, 403):
        return f"The service refuses the sign-in: {sentence or answer.status}"
    return f"The service answers {answer.status}{': ' + sentence if sentence else ''}."


def read_again(row: Service) -> tuple[FieldChange, ...]:
    """Read fields and things anew; what changed of the fields. Raises where it cannot be read."""
    described = ServiceDescription.model_validate(row.description)
    with Line(row) as line:
        return _read(row, described, line, clock.now(row.workspace), must=True)


def is_stale(row: Service, now: datetime) -> bool:
    """Whether what was read is old."""
    return row.read_at is None or now - row.read_at > STALE_AFTER


def _read(
    row: Service, described: ServiceDescription, line: Line, now: datetime, *, must: bool = False
) -> tuple[FieldChange, ...]:
    before = fields_of_service(row, described)
    if described.fields:
        pages = _pages(line, described.fields, described.fields_paging, described)
        if isinstance(pages, str):
            return _unread(row, "The fields", pages, must)
        read = [one for page in pages for one in read_fields(described.read_fields, page)]
        row.fields = [one.model_dump(mode="json") for one in read]
    things = {}
    for kind in described.things:
        many = _things(line, kind, described)
        if isinstance(many, str):
            return _unread(row, f"The {kind.label.lower()}s", many, must)
        things[kind.kind] = [one.model_dump(mode="json") for one in many]
    row.things, row.read_at = things, now
    row.save(update_fields=["fields", "things", "read_at"])
    catalogue_changed(row.workspace)
    changed = compare_fields(before, fields_of_service(row, described)) if before else ()
    return changed


def _unread(row: Service, what: str, wrong: str, must: bool) -> tuple[FieldChange, ...]:
    if must:
        raise refuse("not_read", "service", f"{what} could not be read. {wrong}", "Try it again.")
    row.trouble = f"{what} could not be read. {wrong}"[:300]
    row.save(update_fields=["trouble"])
    return ()


def _things(line: Line, kind: ThingKind, described: ServiceDescription) -> list[Thing] | str:
    pages = _pages(line, kind.read, kind.paging, described)
    if isinstance(pages, str):
        return pages
    things: list[Thing] = []
    for one in (one for page in pages for one in found(kind.items, page, list)):
        if pk := text_at(kind.id, one):
            things.append(Thing(id=pk, label=text_at(kind.name, one) or pk))
    return things


def _pages(
    line: Line, call: Call, paging: Paging | None, described: ServiceDescription
) -> list[object] | str:
    """All parts of a long answer, or what is wrong, in words: half of it would pass for all there is."""
    pages: list[object] = []
    cursor = ""
    while len(pages) < MOST_PAGES:
        asked = call
        if paging and cursor:
            asked = call.model_copy(update={"query": {**call.query, paging.parameter: cursor}})
        answer = line.ask(asked, known(cursor=cursor))
        if wrong := trouble_with(answer, described):
            return wrong
        pages.append(answer.json)
        before, cursor = cursor, text_at(paging.next, answer.json) if paging else ""
        if not cursor:
            return pages
        if cursor == before:
            return "The service gives the same page again and again."
    return f"There are more than {MOST_PAGES} pages of them."


@changes("made the field “{label}” in “{row.name}”", whole=False)
def make_field(
    row: Service, key: str, label: str, field_type: FarType, choices: Iterable[str]
) -> FarField:
    """Make a field over there, and read it from there; refused in the service's own words."""
    described = ServiceDescription.model_validate(row.description)
    if described.make_field is None:
        raise refuse(
            "cannot", "service", f"Fields of {row.name} are made over there.", "Make it there."
        )
    if not label.strip():
        raise refuse("no_name", "label", "The field needs a name.", "Name it.")
    theirs = {
        "key": key.strip() or folded(label).replace(" ", "_"),
        "label": label.strip(),
        "type": described.read_fields.their_type(field_type),
        "choices": [one for one in choices if one.strip()],
    }
    with Line(row) as line:
        answer = line.ask(described.make_field, known(field=theirs))
        if wrong := trouble_with(answer, described):
            raise refuse("not_made", "label", f"The field was not made. {wrong}", "Change it.")
        _read(row, described, line, clock.now(row.workspace), must=True)
    wanted = folded(label)
    made = [
        one
        for one in fields_of_service(row, described)
        if one.key == theirs["key"] or folded(one.shown) == wanted
    ]
    if not made:
        raise refuse(
            "not_made", "label", "The service took it, and does not name it.", "Look there."
        )
    return made[-1]


@changes("made “{label}” in “{row.name}”", whole=False)
def make_thing(row: Service, kind: str, label: str) -> Thing:
    """Make a list, a tag or the like over there."""
    described = ServiceDescription.model_validate(row.description)
    thing = described.thing(kind)
    if thing is None or thing.make is None:
        raise refuse("cannot", "service", f"This is made in {row.name} itself.", "Make it there.")
    if not label.strip():
        raise refuse("no_name", "label", "It needs a name.", "Name it.")
    with Line(row) as line:
        answer = line.ask(thing.make, known(thing={"label": label.strip()}))
        if wrong := trouble_with(answer, described):
            raise refuse("not_made", "label", f"It was not made. {wrong}", "Change it.")
        _read(row, described, line, clock.now(row.workspace), must=True)
    for one in row.things.get(kind, []):
        if folded(one["label"]) == folded(label):
            return Thing.model_validate(one)
    raise refuse("not_made", "label", "The service took it, and does not name it.", "Look there.")


@changes("made a new signing secret for “{row.name}”", roles=OWNERS)
def renew_hear_secret(row: Service) -> str:
    """A new secret that its calls are signed with; the one before is good for a while yet."""
    secret = new_signing_secret()
    row.hear_secret_before, row.hear_secret = row.hear_secret, sealed(secret)
    row.hear_secret_until = clock.now(row.workspace) + BOTH_FOR
    row.save(update_fields=["hear_secret", "hear_secret_before", "hear_secret_until"])
    return secret


@changes("paused “{row.name}”")
def pause(row: Service) -> None:
    """Nothing is handed over until it is resumed; it waits in its order."""
    row.state = Service.State.PAUSED
    row.save(update_fields=["state"])


@changes("resumed “{row.name}”", whole=False)
def resume(row: Service) -> None:
    """Go on, if it still signs in."""
    row.state = Service.State.WORKING
    row.save(update_fields=["state"])
    try_it(row)


@changes("changed “{row.name}”")
def change(row: Service, **values: Any) -> None:
    """Change its settings, by the names of its columns."""
    if "name" in values:
        values["name"] = " ".join(values["name"].split())[:80]
        if not values["name"]:
            raise refuse("no_name", "name", "It needs a name.", "Write what it is for.")
        values["folded"] = folded(values["name"])
    for name, value in values.items():
        setattr(row, name, value)
    try:
        with transaction.atomic():
            row.save(update_fields=[*values])
    except IntegrityError:
        raise refuse(
            "exists",
            "name",
            f"There is a service named like “{row.name}” already.",
            "Choose another.",
        ) from None
    catalogue_changed(row.workspace)


def list_or_none(workspace: Workspace, pk: UUID | str | None) -> MailingList | None:
    """A list of the workspace; None where none is named."""
    if pk is None:
        return None
    found_list = MailingList.objects.of(workspace).filter(pk=pk).first()
    if found_list is None:
        raise refuse("list_gone", "list", "This list is gone.", "Choose another list.")
    return found_list


@changes("disconnected “{row.name}”", roles=OWNERS)
def disconnect(row: Service) -> None:
    """Remove the connection and what is known of it; nothing changes over there."""
    workspace = row.workspace
    row.delete()
    catalogue_changed(workspace)


def _close_snags(row: Service) -> None:
    """That it needs a look is over."""
    rows = Snag.objects.of(row.workspace).filter(
        closed_at=None, cause__startswith=f"service/{row.pk}/"
    )
    rows.update(closed_at=clock.now(row.workspace))
