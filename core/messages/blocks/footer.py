"""A part of the footer, placed in the letter; what is not placed stands below by itself."""

from html import escape
from typing import Literal, get_args

from ..frame import PAGE_LINK
from .base import Drawing, MessageBlock

FooterPart = Literal["text", "links", "sender", "why", "leave", "own_page"]
FOOTER_PARTS: tuple[FooterPart, ...] = get_args(FooterPart)
"""In the order in which they stand below."""
NAMES: dict[FooterPart, str] = {
    "text": "the footer text",
    "links": "the links",
    "sender": "the sender and the postal address",
    "why": "why they get it",
    "leave": "the link to unsubscribe",
    "own_page": "the link to their own page",
}


class FooterBlock(MessageBlock):
    """A part of the footer, where the letter has it."""

    kind: Literal["footer"] = "footer"
    part: FooterPart = "leave"

    def mjml(self, draw: Drawing) -> str:
        """The part, smaller than the text."""
        return (
            f'<mj-text font-size="13px" padding="0 0 12px">{footer_html(self.part, draw)}</mj-text>'
        )

    def plain(self, draw: Drawing) -> str:
        """The part."""
        return footer_plain(self.part, draw)

    def say(self) -> str:
        """Which part."""
        return f"footer: {NAMES[self.part]}"


def footer_html(part: FooterPart, draw: Drawing) -> str:
    """A part of the footer in HTML; empty where there is nothing to say."""
    style, frame = draw.style, draw.frame
    match part:
        case "text":
            lines = [escape(line) for line in style.footer.splitlines() if line.strip()]
            return "<br />".join(lines)
        case "links":
            return " · ".join(
                f'<a href="{escape(one.link)}">{escape(one.label or one.link)}</a>'
                for one in style.links
            )
        case "sender":
            return escape(_sender(draw))
        case "why":
            return escape(frame.why)
        case "leave":
            return _link(frame.leave, "leave_link", draw)
        case "own_page":
            return _link(frame.own_page, "own_page", draw)


def page_html(draw: Drawing) -> str:
    """The link to the letter's page in HTML; empty where it has none."""
    return _link(draw.frame.in_browser, PAGE_LINK, draw)


def page_plain(draw: Drawing) -> str:
    """The same in plain text."""
    return _plain_link(draw.frame.in_browser, PAGE_LINK, draw)


def _link(label: str, token: str, draw: Drawing) -> str:
    if not label:
        return ""
    return f'<a href="{draw.slot("link", f"{{{{ {token} }}}}")}">{escape(label)}</a>'


def _plain_link(label: str, token: str, draw: Drawing) -> str:
    return f"{label}: {draw.words('link', f'{{{{ {token} }}}}')}" if label else ""


def footer_plain(part: FooterPart, draw: Drawing) -> str:
    """A part of the footer in plain text."""
    style, frame = draw.style, draw.frame
    match part:
        case "text":
            return "\n".join(line.strip() for line in style.footer.splitlines() if line.strip())
        case "links":
            return "\n".join(f"{one.label}: {one.link}" for one in style.links)
        case "sender":
            return _sender(draw)
        case "why":
            return frame.why
        case "leave":
            return _plain_link(frame.leave, "leave_link", draw)
        case "own_page":
            return _plain_link(frame.own_page, "own_page", draw)


def _sender(draw: Drawing) -> str:
    frame = draw.frame
    return ", ".join(one for one in (frame.sender_name, frame.postal_address) if one) + "."
