"""What this room holds of people."""

import json
import re

from django.db.models.functions import Lower

from server.workspaces.personal import Subject, holds_nobody, holds_people

from .models import (
    Erased,
    Evidence,
    EvidenceReleased,
    Fact,
    Field,
    FormerAddress,
    FrozenGroup,
    FrozenMember,
    MailingList,
    Membership,
    Mention,
    Merge,
    OwnRequest,
    Subscriber,
    Suppression,
    Tag,
    Tagging,
    Task,
)


def _forget_merges(subject: Subject) -> None:
    """A merge keeps for a day who went into somebody else: the two are one person."""
    rows = Merge.objects.of(subject.workspace).annotate(key=Lower("gone_address"))
    rows.filter(key__in=subject.keys).update(restore={}, gone_address="")


def _forget_requests(subject: Subject) -> None:
    """Somebody else may have asked for this address to be theirs."""
    rows = OwnRequest.objects.of(subject.workspace).exclude(subscriber=subject.person)
    for field in ("to", "new_address"):
        rows.filter(subject.named_in(field, "iexact")).delete()


def _erase_mentions(subject: Subject) -> None:
    """What was said of other people may name them."""
    mentions = Mention.objects.of(subject.workspace).filter(key__in=subject.keys, kind="fact")
    for fact in Fact.objects.of(subject.workspace).filter(pk__in=mentions.values("row")):
        written = json.dumps(fact.what, ensure_ascii=False)
        for address in subject.addresses:
            escaped = re.escape(json.dumps(address, ensure_ascii=False)[1:-1])
            written = re.sub(escaped, "…", written, flags=re.IGNORECASE)
        fact.what = json.loads(written)
        fact.save(update_fields=["what"])
    mentions.delete()


def _take_out_of_groups(subject: Subject) -> None:
    """The name of a group, and what it was made of, can name somebody by their address."""
    rows = FrozenGroup.objects.of(subject.workspace)
    for row in rows.filter(subject.named_in("name") | subject.named_in("of")):
        row.name, row.of = subject.without(row.name)[:80], subject.without(row.of)[:500]
        row.save(update_fields=["name", "of"])


holds_people(
    FrozenGroup,
    erasing="their address is taken out of its name and of what it says",
    merging="stays",
    exporting="no: what members name",
    retention="until a member deletes it",
    erase=_take_out_of_groups,
)
holds_people(
    FormerAddress,
    erasing="goes with the person; a keyed hash of each stays (Erased)",
    merging="moves, and the address of the one who goes becomes one",
    exporting="all of it",
    retention="as long as the person",
    moves=True,
)
holds_people(
    Mention,
    erasing="what it leads to is emptied, and it goes",
    merging="stays",
    exporting="no: it says where others named them",
    retention="as long as what it leads to",
    erase=_erase_mentions,
)
holds_people(
    Subscriber,
    erasing="removed; a keyed hash of the address stays (Erased)",
    merging="by core/profiles/merging.py, undone for a day",
    exporting="all of it",
    retention="until removed",
)
for _model, _merging, _exporting in (
    (Tagging, "moves; one of each tag", "all of it"),
    (FrozenMember, "moves; once in each group", "no: what members made up"),
    (Membership, "it counts by whose state it is (core/people/membership.py)", "all of it"),
    (Evidence, "moves; its chain and hashes stay as they are", "all of it, with its hashes"),
    (Fact, "moves", "all of it: the trail"),
    (Task, "moves", "in the trail"),
):
    holds_people(
        _model,
        erasing="goes with the person",
        merging=_merging,
        exporting=_exporting,
        retention="as long as the person",
        moves=_merging == "moves",
    )
holds_people(
    OwnRequest,
    erasing="goes with the person; requests of others that name the address go too",
    merging="goes with the one who goes",
    exporting="no: what they asked for stands in the trail",
    retention="as long as the person",
    erase=_forget_requests,
)
holds_people(
    Merge,
    erasing="goes with the person; of the one who went into another, what undoing needs goes",
    merging="stays with the one who is kept",
    exporting="in the trail",
    retention="what undoing needs goes after a day",
    erase=_forget_merges,
)
holds_people(
    Suppression,
    erasing="becomes part of the keyed hash",
    merging="carried over",
    exporting="no: it is the workspace's own list",
    retention="until a member removes it",
)
holds_people(
    Erased,
    erasing="this is what stays: a keyed hash",
    merging="stays",
    exporting="no: it names nobody",
    retention="for good",
)
holds_nobody(Field, Tag, MailingList, why="what members name")
holds_nobody(EvidenceReleased, why="that a chain was let go of, without saying whose")
