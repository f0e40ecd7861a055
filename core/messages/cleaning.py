"""HTML that members write or paste: nothing stays but what a text needs."""

import nh3

TAGS = {
    "a", "b", "blockquote", "br", "code", "em", "h1", "h2", "h3", "hr", "i", "img", "li",
    "ol", "p", "s", "strong", "u", "ul",
}  # fmt: skip
_ATTRIBUTES = {"a": {"href"}, "img": {"src", "alt", "width", "height"}}
_SCHEMES = {"http", "https", "mailto", "tel"}
_STYLED = {**_ATTRIBUTES, "*": {"style"}, "a": {"href", "data-l", "target"}}
_STYLES = {
    "color", "display", "font-size", "font-style", "font-weight", "line-height", "margin",
    "margin-bottom", "margin-top", "padding", "text-decoration",
}  # fmt: skip


def clean_html(source: str) -> str:
    """The text with nothing in it but what a text needs: no scripts, no styles."""
    return nh3.clean(source, tags=TAGS, attributes=_ATTRIBUTES, url_schemes=_SCHEMES, link_rel=None)


def clean_laid_out(source: str) -> str:
    """The same, with the styles and the numbers of links that laying out has put in."""
    return nh3.clean(
        source,
        tags=TAGS,
        attributes=_STYLED,
        url_schemes=_SCHEMES,
        link_rel=None,
        filter_style_properties=_STYLES,
    )
