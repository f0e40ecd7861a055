"""HTML that members write or paste: nothing stays but what a text needs."""

import re

import nh3

from .limits import DEEPEST_TAGS, MOST_TAGS

TAGS = {
    "a", "b", "blockquote", "br", "code", "em", "h1", "h2", "h3", "hr", "i", "img", "li",
    "ol", "p", "s", "strong", "u", "ul",
}  # fmt: skip
_ATTRIBUTES = {"a": {"href"}, "img": {"src", "alt", "width", "height"}}
_DIRECTED = {one: {"dir": {"ltr", "rtl"}} for one in ("p", "h1", "h2", "h3", "li")}
_SCHEMES = {"http", "https", "mailto", "tel"}
_STYLED = {**_ATTRIBUTES, "*": {"style"}, "a": {"href", "data-l", "target"}}
_STYLES = {
    "color", "display", "font-size", "font-style", "font-weight", "line-height", "margin",
    "margin-bottom", "margin-top", "padding", "text-decoration",
}  # fmt: skip


_MARKUP = re.compile(r"<(/?)([a-zA-Z][^\s/>]*)[^>]*?(/?)>")
_VOID = frozenset(
    {"area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "wbr"}
)


def too_nested(source: str, deepest: int = DEEPEST_TAGS, most: int = MOST_TAGS) -> str:
    """Why HTML is not taken, by how deep its tags stand within each other and how many there are; empty: it
    is. Counted on the text itself, before anything reads it."""
    depth = 0
    for count, (closing, name, itself) in enumerate(_MARKUP.findall(source), start=1):
        if count > most:
            return f"it holds more than {most:,} tags"
        if closing:
            depth = max(depth - 1, 0)
        elif not itself and name.lower() not in _VOID:
            depth += 1
            if depth > deepest:
                return f"its tags stand more than {deepest} deep within each other"
    return ""


def bounded_html(source: str) -> str:
    """HTML as a message holds it; ValueError: it is nested beyond what can be laid out."""
    wrong = too_nested(source)
    if wrong:
        raise ValueError(f"this text cannot be laid out: {wrong}")
    return source


def clean_html(source: str) -> str:
    """The text with nothing in it but what a text needs: no scripts, no styles."""
    return nh3.clean(
        source,
        tags=TAGS,
        attributes=_ATTRIBUTES,
        tag_attribute_values=_DIRECTED,
        url_schemes=_SCHEMES,
        link_rel=None,
    )


def clean_laid_out(source: str) -> str:
    """The same, with the styles and the numbers of links that laying out has put in."""
    return nh3.clean(
        source,
        tags=TAGS,
        attributes=_STYLED,
        tag_attribute_values=_DIRECTED,
        url_schemes=_SCHEMES,
        link_rel=None,
        filter_style_properties=_STYLES,
    )
