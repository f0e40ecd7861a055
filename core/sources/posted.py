"""A form of somebody's own website, that posts here."""

from collections.abc import Iterator

from ..deciding import RouteDocument, is_web_address
from ..documents import Finding
from .base import SourceRules


class Posted(SourceRules):
    """A form of their own."""

    kind = "posted"
    own = True
    shows_page = True

    def check(self, route: RouteDocument) -> Iterator[Finding]:
        """The addresses that it names."""
        own = route.own_form
        if own.errors_to and not is_web_address(own.errors_to):
            yield Finding(
                code="not_an_address",
                place="own_form",
                sentence="The page for answers with errors has no full address.",
                fix="Give the whole address, beginning with https://.",
            )
        for site in own.sites:
            if not is_web_address(site):
                yield Finding(
                    code="not_an_address",
                    place="own_form",
                    sentence=f"“{site}” is not the address of a website.",
                    fix="Write it like https://www.example.org.",
                )
