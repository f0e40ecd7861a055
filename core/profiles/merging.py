"""Merging two people who are one: a stated outcome for everything that is known of them.

The address of the one who is kept stays. Of two values of a field the kept one's stays, unless
a member chose the other; a value that only one has stays in any case. Tags are put together,
the scores added. On each list it counts by whose state it is, so that a merge
brings nobody back. Of two runs of one sequence the one under way goes on; the other ends.
"""

from typing import Literal

from ..documents import Frozen, folded
from ..people import Catalogue, MembershipState, Person, merged
from ..values import Kept

Side = Literal["kept", "gone", "both"]
RunOutcome = Literal["stays", "moves", "ends", "replaces"]
"""Of the run of the one who goes: `moves` to the kept one; `ends` beside a run of theirs, which
`stays`; or `replaces` one of theirs that had ended."""


class Line(Frozen):
    """What becomes of one thing, in words: what each has, what stays, and from whom."""

    about: Literal["address", "field", "tag", "list", "sequence", "score", "owner"]
    key: str
    name: str
    kept: str = ""
    gone: str = ""
    result: str = ""
    side: Side = "kept"
    open: bool = False
    """Whether a member can choose the other value."""


class Merging(Frozen):
    """The person as they will be, and how that comes about."""

    values: dict[str, Kept]
    tags: frozenset[str]
    memberships: dict[str, MembershipState]
    runs: dict[str, RunOutcome]
    """By sequence, of every sequence that the one who goes is or was in."""
    score: int
    owner: str | None
    lines: tuple[Line, ...]


def merge(kept: Person, gone: Person, catalogue: Catalogue, chosen: frozenset[str]) -> Merging:
    """Put `gone` into `kept`. `chosen`: keys of the fields whose value of `gone` is to stay."""
    lines = [
        Line(
            about="address",
            key="email",
            name="Email",
            kept=kept.address,
            gone=gone.address,
            result=kept.address,
        )
    ]
    values, field_lines = _values(kept, gone, catalogue, chosen)
    memberships, list_lines = _memberships(kept, gone, catalogue)
    runs, run_lines = _runs(kept, gone, catalogue)
    lines += field_lines
    for tag in sorted(kept.tags | gone.tags, key=lambda one: catalogue.tags.get(one, one)):
        has, had = tag in kept.tags, tag in gone.tags
        name = catalogue.tags.get(tag, "a tag that is gone")
        side: Side = "both" if has and had else "kept" if has else "gone"
        lines.append(
            Line(
                about="tag",
                key=tag,
                name=name,
                kept=name if has else "",
                gone=name if had else "",
                result=name,
                side=side,
            )
        )
    lines += [*list_lines, *run_lines]
    score = kept.score + gone.score
    if kept.score or gone.score:
        lines.append(
            Line(
                about="score",
                key="score",
                name="Score",
                kept=str(kept.score),
                gone=str(gone.score),
                result=str(score),
                side="both",
            )
        )
    owner = kept.owner or gone.owner
    if owner:
        members = catalogue.members
        lines.append(
            Line(
                about="owner",
                key="owner",
                name="Owner",
                kept=members.get(kept.owner or "", ""),
                gone=members.get(gone.owner or "", ""),
                result=members.get(owner, ""),
                side="kept" if kept.owner else "gone",
            )
        )
    return Merging(
        values=values,
        tags=kept.tags | gone.tags,
        memberships=memberships,
        runs=runs,
        score=score,
        owner=owner,
        lines=tuple(lines),
    )


def _values(
    kept: Person, gone: Person, catalogue: Catalogue, chosen: frozenset[str]
) -> tuple[dict[str, Kept], list[Line]]:
    values = {key: value for key, value in kept.values.items() if key != "email"}
    lines = []
    for field in sorted(catalogue.fields.values(), key=lambda one: one.label):
        if field.type == "email":
            continue
        mine, theirs = kept.values.get(field.key), gone.values.get(field.key)
        has, had = mine not in (None, "", ()), theirs not in (None, "", ())
        if not has and not had:
            continue
        differ = has and had and not _same(mine, theirs)
        take = had and (not has or (differ and field.key in chosen))
        if take and theirs is not None:
            values[field.key] = theirs
        lines.append(
            Line(
                about="field",
                key=field.key,
                name=field.label,
                kept=field.shown(mine) if mine is not None else "",
                gone=field.shown(theirs) if theirs is not None else "",
                result=field.shown(values[field.key]),
                side="gone" if take else "both" if had and not differ else "kept",
                open=differ,
            )
        )
    return values, lines


def _same(one: Kept | None, other: Kept | None) -> bool:
    if isinstance(one, str) and isinstance(other, str):
        return folded(one) == folded(other)
    return one == other


def _memberships(
    kept: Person, gone: Person, catalogue: Catalogue
) -> tuple[dict[str, MembershipState], list[Line]]:
    states: dict[str, MembershipState] = {}
    lines = []
    for one in sorted({*kept.memberships, *gone.memberships}):
        mine, theirs = kept.membership(one), gone.membership(one)
        states[one] = merged(mine, theirs)
        side: Side = "both" if mine == theirs else "kept" if states[one] == mine else "gone"
        name = catalogue.lists.get(one, "a list that is gone")
        lines.append(
            Line(
                about="list",
                key=one,
                name=name,
                kept=_on(mine),
                gone=_on(theirs),
                result=_on(states[one]),
                side=side,
            )
        )
    return states, lines


def _on(state: MembershipState) -> str:
    return "" if state == "none" else state


def _runs(
    kept: Person, gone: Person, catalogue: Catalogue
) -> tuple[dict[str, RunOutcome], list[Line]]:
    runs: dict[str, RunOutcome] = {}
    lines = []
    for one in sorted(kept.entered | gone.entered):
        facts = catalogue.sequences.get(one)
        mine, theirs = _run(kept, one), _run(gone, one)
        if theirs and not mine:
            runs[one] = "moves"
        elif theirs:
            replaces = one in gone.under_way and one not in kept.under_way
            runs[one] = "replaces" if replaces else "ends"
        outcome = runs.get(one, "stays")
        lines.append(
            Line(
                about="sequence",
                key=one,
                name=facts.name if facts else "a sequence that is gone",
                kept=mine,
                gone=theirs,
                result=mine if outcome in ("stays", "ends") else theirs,
                side="kept" if outcome in ("stays", "ends") else "gone",
            )
        )
    return runs, lines


def _run(person: Person, sequence: str) -> str:
    if sequence in person.under_way:
        return "in progress"
    return "was in it" if sequence in person.entered else ""
