"""What stands around every letter of a sender."""

from dataclasses import dataclass

PAGE_LINK = "page_link"
"""The token for the address of the letter's page; only what stands around a letter has it."""


@dataclass(frozen=True)
class Frame:
    """Who sends it, why somebody gets it, and the links that every letter has, in its language. What is
    empty does not stand there."""

    sender_name: str
    postal_address: str
    language: str = "en"
    """Of what stands in it, and of a letter that says nothing of its own."""
    why: str = "You are receiving this email because you signed up."
    leave: str = "Unsubscribe"
    own_page: str = "Your emails and your data"
    in_browser: str = ""
    """The link to the letter's page, where it has one."""
