"""What the public reads of a list: its name there, what it is about, and its pages."""

from collections.abc import Iterator

from pydantic import Field

from ..deciding import is_web_address
from ..documents import Frozen, Problem


class ListPage(Frozen):
    """A page in the list's own words; an empty part shows the usual words."""

    heading: str = Field(default="", max_length=120)
    text: str = Field(default="", max_length=2000)
    address: str = Field(default="", max_length=2000)
    """Another page to go to instead, where that is possible."""


class ListPages(Frozen):
    """The page that asks to confirm, the one after it, and the one after leaving."""

    asks: ListPage = ListPage()
    confirmed: ListPage = ListPage()
    left: ListPage = ListPage()


def check_pages(pages: ListPages) -> Iterator[Problem]:
    """Addresses that no browser can go to."""
    for name, page in (("confirmed", pages.confirmed), ("left", pages.left)):
        if page.address.strip() and not is_web_address(page.address):
            yield Problem(
                code="not_an_address",
                place=f"pages.{name}.address",
                sentence=f"“{page.address[:80]}” is not the address of a page.",
                fix="Write it whole, such as https://www.example.org/welcome.",
            )
