"""Fields, tags, lists and tasks: what members make, and what is furnished for them."""

from collections.abc import Iterable
from typing import TypeVar

from django.db import IntegrityError, transaction
from django.utils.text import slugify

from core.documents import folded
from core.values import Choice
from server.workspaces import clock
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import refuse
from server.workspaces.history import changes
from server.workspaces.models import Workspace

from .models import Field, MailingList, Tag, Task, built_in_fields

Made = TypeVar("Made", Field, Tag, MailingList)


def furnish(workspace: Workspace) -> None:
    """Give a new workspace the fields that every workspace has."""
    Field.everywhere.bulk_create(built_in_fields(workspace))


@changes("made the field “{label}”")
def make_field(
    workspace: Workspace, label: str, field_type: str, choices: tuple[Choice, ...] = ()
) -> Field:
    """Make a field; its key comes from the label and never changes."""
    label = _named(label, 80)
    key = slugify(folded(label)).replace("-", "_")[:60]
    if not key:
        raise refuse("bad_name", "label", "The name needs a letter or a digit.", "Choose another.")
    if key in ("answers", "workspace"):
        raise refuse(
            "reserved", "label", f"“{label}” has a meaning in texts.", "Choose another name."
        )
    if field_type == Field.Type.EMAIL:
        raise refuse("second_address", "type", "A person has one address: the field Email.")
    return _make(
        Field(
            workspace=workspace,
            key=key,
            label=label,
            type=Field.Type(field_type),
            choices=[choice.model_dump(mode="json") for choice in choices],
        ),
        "field",
    )


@changes("made the tag “{name}”")
def make_tag(workspace: Workspace, name: str) -> Tag:
    """Make a tag."""
    name = _named(name, 60)
    return _make(Tag(workspace=workspace, name=name, folded=folded(name)), "tag")


@changes("made the list “{name}”")
def make_list(workspace: Workspace, name: str, description: str = "") -> MailingList:
    """Make a mailing list."""
    name = _named(name, 80)
    row = MailingList(
        workspace=workspace, name=name, folded=folded(name), description=description.strip()[:300]
    )
    return _make(row, "list")


def _named(name: str, limit: int) -> str:
    name = " ".join(name.split())
    if not name:
        raise refuse("no_name", "name", "It needs a name.", "Write what it is for.")
    if len(name) > limit:
        raise refuse(
            "long_name", "name", f"The name is longer than {limit} characters.", "Shorten it."
        )
    return name


def _make(row: Made, what: str) -> Made:
    try:
        with transaction.atomic():
            row.save(force_insert=True)
    except IntegrityError:
        name = row.label if isinstance(row, Field) else row.name
        raise refuse(
            "exists",
            "name",
            f"There is a {what} named like “{name}” already.",
            "Use that one, or choose another name.",
        ) from None
    catalogue_changed(row.workspace)
    return row


def tags_by_name(workspace: Workspace, names: Iterable[str]) -> dict[str, str]:
    """Ids of the tags with these names, made where they are missing.

    In one order, by one statement: two workers that make the same tags never wait for each
    other in a circle.
    """
    by_folded: dict[str, str] = {}
    wanted = {name: folded(name) for name in names}
    for name, key in wanted.items():
        by_folded.setdefault(key, name)
    tags = Tag.objects.of(workspace)
    ids = dict(tags.filter(folded__in=by_folded).values_list("folded", "pk"))
    missing = [
        Tag(workspace=workspace, name=by_folded[key][:60], folded=key)
        for key in sorted(by_folded.keys() - ids.keys())
    ]
    if missing:
        Tag.everywhere.bulk_create(missing, ignore_conflicts=True)
        ids = dict(tags.filter(folded__in=by_folded).values_list("folded", "pk"))
        catalogue_changed(workspace)
    return {name: str(ids[key]) for name, key in wanted.items()}


@changes("finished a task")
def finish_task(task: Task) -> None:
    """A task is done."""
    if task.done_at is None:
        task.done_at = clock.now(task.workspace)
        task.save(update_fields=["done_at"])
