"""What this room holds of people: lines of replays, and the words that chose them."""

from server.workspaces.personal import Subject, holds_people

from .models import Replay, ReplayLine


def _erase_replay_lines(subject: Subject) -> None:
    ReplayLine.objects.of(subject.workspace).filter(subject.named_in("address", "iexact")).delete()


def _erase_filters(subject: Subject) -> None:
    """A replay keeps the words by which its submissions were chosen."""
    for row in Replay.objects.of(subject.workspace).filter(subject.named_in("wanted__text")):
        row.wanted = {**row.wanted, "text": ""}
        row.save(update_fields=["wanted"])


holds_people(
    ReplayLine,
    erasing="removed",
    merging="moves",
    moves=True,
    exporting="no",
    retention="the workspace's retention time, at most a year",
    erase=_erase_replay_lines,
)


holds_people(
    Replay,
    erasing="the words that chose submissions are emptied, where they name the address",
    merging="stays",
    exporting="no",
    retention="for good: counts alone",
    erase=_erase_filters,
)
