"""The document of a broadcast: to whom, what, when, and what is tried first."""

from collections.abc import Iterator
from typing import Literal

from pydantic import Field, NaiveDatetime, model_validator

from ..conditions import Group
from ..documents import Frozen

MOST_VERSIONS = 4
TrialRule = Literal["clicked", "opened", "goal", "fewest_left", "member"]
"""By what the better version is told: a share of those who got it, or a member's choice."""


class To(Frozen):
    """Who is meant: everybody on `list`, or of some audiences; whoever is not on the list gets nothing."""

    list: str | None = None
    """The list that the letter belongs to: only its subscribers may be sent it."""
    audiences: tuple[str, ...] = Field(default=(), max_length=20)
    """Any of these; none: everybody on the list."""
    only: Group = Group()
    """What has to hold besides."""
    less_audiences: tuple[str, ...] = Field(default=(), max_length=20)
    """Whoever is in any of these is left out."""
    less: Group = Group(kind="any")
    """Whoever fits this is left out."""
    less_busy: bool = True
    """Whether those are left out who are under way in a sequence that asks for it."""
    less_recent_days: int | None = Field(default=None, ge=1, le=365)
    """Whoever was sent marketing within so many days is left out."""
    again_of: str | None = None
    """An earlier broadcast: only those who got it, and neither opened nor clicked in it."""


class Version(Frozen):
    """One of the letters, or of the subjects, of a broadcast."""

    id: str = Field(max_length=20)
    message: str | None = None
    subject: str = Field(default="", max_length=300)
    """In place of the message's own; Liquid, as there. Empty: the message's."""


class Trial(Frozen):
    """Two to four versions go to a share first; the better one goes to the rest."""

    share: int = Field(default=20, ge=1, le=90)
    """Percent of those who get it, for all versions together."""
    by: TrialRule = "clicked"
    goal: Group | None = None
    """Of "goal": what holds for somebody who reached it."""
    hours: int = Field(default=4, ge=1, le=24 * 14)
    """How long it is waited after the last email of the trial."""


class When(Frozen):
    """When it goes, and how fast."""

    kind: Literal["at_once", "at", "local"] = "at_once"
    """At once · at one moment for all · when clocks show the time where each person is."""
    at: NaiveDatetime | None = None
    """What the clock shows: the workspace's, or each person's own."""
    without_zone: Literal["workspace", "leave_out"] = "workspace"
    """Of those whose time zone is not known, where it goes by each person's clock."""
    outside: Literal["move", "leave_out"] = "move"
    """What becomes of those for whom sending hours, a quiet date or the gap ask for a later time."""
    per_hour: int | None = Field(default=None, ge=1, le=1_000_000)
    per_domain: int | None = Field(default=None, ge=1, le=1_000_000)
    """The most within an hour: of all, and of each receiving domain."""
    delay_minutes: int = Field(default=5, ge=0, le=24 * 60)
    """How long it can be called back before the first email goes."""


class BroadcastDocument(Frozen):
    """A broadcast."""

    to: To = To()
    versions: tuple[Version, ...] = Field(
        default=(Version(id="a"),), min_length=1, max_length=MOST_VERSIONS
    )
    trial: Trial = Trial()
    """How the versions are tried; nothing is where there is only one."""
    when: When = When()
    page: bool = True
    """Whether everybody who knows its address can read it in a browser."""

    @model_validator(mode="after")
    def _one_each(self) -> "BroadcastDocument":
        if len({one.id for one in self.versions}) < len(self.versions):
            raise ValueError("two versions have the same id")
        return self

    @property
    def is_tried(self) -> bool:
        """Whether several versions are tried on a share first."""
        return len(self.versions) > 1

    def version(self, version_id: str) -> Version:
        """The version of that id; the first where there is none."""
        return next((one for one in self.versions if one.id == version_id), self.versions[0])

    def conditions(self) -> Iterator[tuple[str, Group]]:
        """Every condition of its own, with the place where it stands."""
        yield "only", self.to.only
        yield "less", self.to.less
        if self.trial.goal is not None:
            yield "goal", self.trial.goal
