"""A clock time on some weekdays, for everybody whom a condition fits."""

from collections.abc import Iterator
from datetime import time
from typing import Literal

from ...delivering import weekdays_in_words
from ...documents import Finding
from ...people import Catalogue
from ..steps import Weekday
from .base import BaseDoor, DoorCheck


class ScheduleDoor(BaseDoor):
    """When it is so late on one of these weekdays (1 is Monday; none: every day) where the person is,
    everybody whom `only` fits."""

    kind: Literal["schedule"] = "schedule"
    weekdays: tuple[Weekday, ...] = (1,)
    at: time = time(9)

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """Everybody at once is seldom meant."""
        yield from super().check(at)
        if self.only is None:
            yield Finding(
                code="everybody_enters",
                place=self.id,
                sentence="This door lets in everybody in the workspace.",
                fix="Say for whom it is, by a condition.",
            )

    def named(self, catalogue: Catalogue) -> str:
        """Monday at 08:30"""
        return f"{weekdays_in_words(self.weekdays)} at {self.at:%H:%M}"
