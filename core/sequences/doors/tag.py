"""A tag is put on somebody."""

from collections.abc import Iterator
from typing import Literal

from ...documents import Finding, Use
from ...people import Catalogue
from .base import BaseDoor, DoorCheck, Signal


class TagDoor(BaseDoor):
    """Whoever is given the tag, by whatever."""

    kind: Literal["tag"] = "tag"
    tag: str | None = None

    def opens_for(self, signal: Signal, catalogue: Catalogue) -> bool:
        """At the moment the tag is added."""
        return signal.kind == "tag" and signal.about == self.tag

    def check(self, at: DoorCheck) -> Iterator[Finding]:
        """The tag is there."""
        yield from super().check(at)
        if self.tag not in at.catalogue.tags:
            yield self.unfinished("No tag is chosen for this door.", "Choose a tag.")

    def named(self, catalogue: Catalogue) -> str:
        """tag “photo”"""
        return f"tag “{catalogue.tags.get(self.tag or '', 'not chosen')}”"

    def uses(self) -> Iterator[Use]:
        """Looks at its tag."""
        if self.tag:
            yield Use(id=self.tag, how="looks at")
