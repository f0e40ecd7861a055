"""Changing tags and lists once people have them: rename, merge, remove, and look-alikes."""

from typing import TypeVar

from django.db import transaction
from django.db.models import Count, TextField, Value
from django.db.models.fields.json import KeyTextTransform
from django.db.models.functions import Coalesce

from core.documents import Problem, bare_name, folded
from core.profiles import ListPages, check_pages
from core.values import read_language
from core.wording import OwnWords, check_words
from server.workspaces.actions import catalogue_changed
from server.workspaces.errors import Refused, refuse
from server.workspaces.history import changes

from .models import MailingList, Membership, Tag, Tagging

_MOST_CAUSES = 100
Named = TypeVar("Named", Tag, MailingList)


@changes("renamed the {what} “{row.name}” to “{name}”")
def rename(row: Named, name: str, what: str) -> Named:
    """Another name for a tag or a list; what refers to it goes on."""
    name = " ".join(name.split())
    limit = row._meta.get_field("name").max_length or 0
    if not name or len(name) > limit:
        raise refuse("bad_name", "name", f"A name has 1 to {limit} characters.", "Shorten it.")
    others = type(row).objects.of(row.workspace).filter(folded=folded(name)).exclude(pk=row.pk)
    if others.exists():
        raise refuse(
            "exists",
            "name",
            f"There is a {what} named like “{name}” already.",
            f"Merge the two, or choose another name for this {what}.",
        )
    row.name, row.folded = name, folded(name)
    row.save(update_fields=["name", "folded"])
    catalogue_changed(row.workspace)
    return row


@changes("merged the tag “{gone.name}” into “{kept.name}”")
def merge_tags(gone: Tag, kept: Tag) -> int:
    """Everybody with `gone` has `kept` instead; how many."""
    if gone.pk == kept.pk:
        raise refuse("bad_merge", "into", "A tag cannot be merged into itself.")
    with transaction.atomic():
        taggings = Tagging.objects.of(gone.workspace)
        count = taggings.filter(tag=gone).count()
        both = taggings.filter(tag=kept).values("subscriber")
        # Who has both keeps the one that stays, with its own because.
        taggings.filter(tag=gone, subscriber__in=both).delete()
        taggings.filter(tag=gone).update(tag=kept)
        workspace = gone.workspace
        gone.delete()
        catalogue_changed(workspace)
    return count


@changes("removed the tag “{row.name}”")
def remove_tag(row: Tag) -> int:
    """Remove a tag from everybody; from how many."""
    with transaction.atomic():
        count = Tagging.objects.of(row.workspace).filter(tag=row).count()
        workspace = row.workspace
        row.delete()
        catalogue_changed(workspace)
    return count


@changes("changed what the public reads of the list “{row.name}”")
def set_public(
    row: MailingList,
    public_name: str,
    description: str,
    language: str,
    pages: ListPages,
    words: OwnWords,
) -> MailingList:
    """Set the name, the words, their language and the pages that the public sees of a list."""
    tag = read_language(language) if language else ""
    problems = (
        *([tag] if isinstance(tag, Problem) else []),
        *check_pages(pages),
        *check_words(words, "list"),
    )
    if problems:
        raise Refused(problems[0].sentence, problems)
    row.public_name = " ".join(public_name.split())[:80]
    row.description = description.strip()[:300]
    row.language = str(tag)
    row.pages = pages.model_dump(mode="json")
    row.words = {key: own.strip() for key, own in words.items() if own.strip()}
    row.save(update_fields=["public_name", "description", "language", "pages", "words"])
    catalogue_changed(row.workspace)
    return row


@changes("removed the list “{row.name}”")
def remove_list(row: MailingList) -> int:
    """Remove a list that nobody was ever on: what people agreed to is never thrown away."""
    count = Membership.objects.of(row.workspace).filter(list=row).count()
    if count:
        raise refuse(
            "has_people",
            "list",
            f"{count} people are or were on {row.name}, and what they agreed to is kept.",
            "Rename it, or keep it and stop sending to it.",
        )
    with transaction.atomic():
        workspace = row.workspace
        row.delete()
        catalogue_changed(workspace)
    return 0


def look_alikes(names: dict[str, str]) -> dict[str, str]:
    """By id, the id of an earlier name that is the same but for case, space, hyphen or plural."""
    first: dict[str, str] = {}
    found: dict[str, str] = {}
    for pk, name in names.items():
        bare = bare_name(name)
        if bare in first:
            found[pk] = first[bare]
        else:
            first[bare] = pk
    return found


def causes_of(tag: Tag) -> list[tuple[str, int]]:
    """Why people have a tag: by the source, sequence or member that gave it, and how many; the
    most frequent causes, counted by the database."""
    given = Tagging.objects.of(tag.workspace).filter(tag=tag, subscriber__is_test=False)
    names = [
        KeyTextTransform(key, "cause__content")
        for key in ("source_name", "sequence_name", "member")
    ]
    rows = (
        given.annotate(
            giver=Coalesce(*names, Value("the person"), output_field=TextField()),
        )
        .values_list("giver", "sentence")
        .annotate(people=Count("pk"))
        .order_by("-people", "giver", "sentence")[:_MOST_CAUSES]
    )
    return [(f"{cause}: {more}" if more else cause, people) for cause, more, people in rows]
