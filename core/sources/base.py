"""What a kind of source says of itself."""

from collections.abc import Iterator
from typing import ClassVar

from ..deciding import RouteDocument, SourceKind
from ..documents import Finding


class SourceRules:
    """What holds for all sources of a kind."""

    kind: ClassVar[SourceKind]
    own: ClassVar[bool] = False
    """Whether the person in a submission sent it themself: it decides who may come back."""
    asks: ClassVar[bool] = False
    """Whether its own form says what comes; else that is learned from what came."""
    shows_page: ClassVar[bool] = False
    """Whether the visitor sees a page afterwards."""
    states_consent: ClassVar[bool] = False
    """Whether a member states what the people agreed to, each time something comes."""

    def names(self, route: RouteDocument, seen: tuple[str, ...]) -> tuple[str, ...]:
        """The names that a line can read; `seen`: those that came in lately."""
        own = tuple(route.form.names)
        return own if self.asks else tuple(dict.fromkeys((*own, *seen)))

    def unknown(self, name: str, place: str, names: tuple[str, ...]) -> Iterator[Finding]:
        """What is to be said of a name that is not among `names`, and near none of them."""
        if names:
            yield Finding(
                code="not_seen",
                place=place,
                sentence=f"Nothing has come by the name “{name}” yet.",
                fix="Check its spelling with whoever sends it.",
                stops=False,
            )

    def check(self, route: RouteDocument) -> Iterator[Finding]:
        """What pre-flight finds in the parts that this kind alone has."""
        yield from ()
