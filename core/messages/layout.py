"""A message as an email: HTML by MJML, and plain text, both with stand-ins for what is personal.

Laying out is done once for each revision and choice of blocks; `fill` puts in what was written for
one person. Every value is cleaned by its kind on the way in, so that no text of a member and no
value of a subscriber can become part of the frame.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from html import escape, unescape

import css_inline
import html2text
import mrml

from ..values import direction
from .blocks import (
    FOOTER_PARTS,
    Block,
    ColumnsBlock,
    Drawing,
    FooterBlock,
    FooterPart,
    PictureFacts,
    Source,
    footer_html,
    footer_plain,
    page_html,
    page_plain,
)
from .cleaning import clean_laid_out
from .document import MessageDocument, without
from .frame import PAGE_LINK, Frame
from .personal import encode_in_links, hold_tokens
from .style import FACES, Colours, HouseStyle

_NOT_COUNTED = ("leave_link", "own_page", "confirm_link", PAGE_LINK)
"""Links that act for the person: nobody counts whether they are followed."""
_ANCHOR = re.compile(r"<a\b[^>]*>", re.IGNORECASE)
_HREF = re.compile(r"""\bhref\s*=\s*("[^"]*"|'[^']*')""", re.IGNORECASE)


@dataclass(frozen=True)
class Template:
    """A laid-out message: literal text, and numbers of `sources` between it."""

    language: str
    sources: tuple[Source, ...]
    subject: int
    preheader: int
    html: tuple[str | int, ...]
    text: tuple[str | int, ...]
    links: tuple[str, ...]
    """Where the links that can be counted lead, as they were written, by their numbers."""


@dataclass(frozen=True)
class Filled:
    """A message for one person."""

    subject: str
    preheader: str
    html: str
    text: str


def lay_out(
    document: MessageDocument,
    hidden: frozenset[str],
    style: HouseStyle,
    frame: Frame,
    pictures: Mapping[str, PictureFacts],
) -> Template:
    """The message without the blocks in `hidden`."""
    language = document.language or frame.language or "en"
    rtl = direction(language) == "rtl"
    mark = _mark_for(document.model_dump_json(), style.model_dump_json(), repr(frame))
    draw = Drawing(style, frame, pictures, mark, "right" if rtl else "left")
    subject = draw.number("plain", document.subject)
    preheader = draw.number("plain", document.preheader)
    blocks = without(document, hidden)
    source = _mjml(document, blocks, draw, frame, language)
    framed = mrml.to_html(source).content
    fragments = [(number, one) for one, number in draw.sources.items() if one.kind == "html"]
    held: dict[int, list[str]] = {}
    for number, one in fragments:
        text, tokens = hold_tokens(encode_in_links(one.text), f"{mark}{number}t")
        held[number] = tokens
        framed = framed.replace(
            f"<!--{mark}{number}z-->", f"<!--{mark}{number}a-->{text}<!--{mark}{number}e-->"
        )
    framed = css_inline.inline(framed, keep_style_tags=True, load_remote_stylesheets=False)
    framed, links = _numbered(_without_scripts(framed), draw, held)
    sources = {number: one for one, number in draw.sources.items()}
    for number, tokens in held.items():
        begins, ends = f"<!--{mark}{number}a-->", f"<!--{mark}{number}e-->"
        before, _, rest = framed.partition(begins)
        inside, _, after = rest.partition(ends)
        framed = f"{before}{mark}{number}z{after}"
        sources[number] = Source("html", _released(inside, f"{mark}{number}t", tokens))
    plain = _plain(document, blocks, draw)
    for one, number in draw.sources.items():
        sources.setdefault(number, one)
    return Template(
        language=language,
        sources=tuple(sources[number] for number in sorted(sources)),
        subject=subject,
        preheader=preheader,
        html=_pieces(framed, mark),
        text=_pieces(plain, mark),
        links=tuple(links),
    )


_SCHEME = re.compile(r"[a-z][a-z0-9+.-]*:")
_ALLOWED = ("http:", "https:", "mailto:", "tel:")


def _without_scripts(framed: str) -> str:
    """The letter without links that would run something, wherever it is shown: only web, mail and telephone
    addresses lead anywhere."""

    def kept(found: re.Match[str]) -> str:
        # Browsers look over white space and control characters in a scheme (WHATWG URL 4.4).
        bare = re.sub(r"[\x00-\x20]", "", unescape(found[1][1:-1])).lower()
        scheme = _SCHEME.match(bare)
        return found[0] if scheme is None or scheme[0] in _ALLOWED else 'href="#"'

    return _ANCHOR.sub(lambda anchor: _HREF.sub(kept, anchor[0]), framed)


def mjml_of(
    document: MessageDocument, style: HouseStyle, frame: Frame, pictures: Mapping[str, PictureFacts]
) -> str:
    """The message as MJML, with its tokens as they were written."""
    language = document.language or frame.language or "en"
    mark = _mark_for(document.model_dump_json(), style.model_dump_json(), repr(frame))
    left = "right" if direction(language) == "rtl" else "left"
    draw = Drawing(style, frame, pictures, mark, left)
    source = _mjml(document, without(document, frozenset()), draw, frame, language)
    for one, number in draw.sources.items():
        stand_in = f"<!--{mark}{number}z-->" if one.kind == "html" else f"{mark}{number}z"
        source = source.replace(stand_in, one.text if one.kind == "html" else escape(one.text))
    return source


def fill(template: Template, written: Sequence[str]) -> Filled:
    """The message for one person: `written` is each of its sources with its values."""
    html, text = [], []
    for piece in template.html:
        if isinstance(piece, str):
            html.append(piece)
            continue
        source, value = template.sources[piece], written[piece]
        if source.kind == "html":
            html.append(_cleaned(value))
        else:
            html.append(escape(_safe(value) if source.kind == "link" else " ".join(value.split())))
    for piece in template.text:
        if isinstance(piece, str):
            text.append(piece)
        elif template.sources[piece].kind == "html":
            text.append(_in_plain_text(written[piece]))
        else:
            text.append(written[piece].strip())
    return Filled(
        subject=" ".join(written[template.subject].split()),
        preheader=" ".join(written[template.preheader].split()),
        html="".join(html),
        text=re.sub(r"\n{3,}", "\n\n", "".join(text)).strip() + "\n",
    )


# Most parts are the same for everybody, one email after the other.
_cleaned = lru_cache(maxsize=64)(clean_laid_out)


@lru_cache(maxsize=64)
def _in_plain_text(written: str) -> str:
    return plain_of(_cleaned(written))


def plain_of(html: str) -> str:
    """A piece of HTML in plain text, links written out."""
    writer = html2text.HTML2Text(bodywidth=0)
    writer.ignore_emphasis = True
    writer.ignore_images = True
    writer.inline_links = True
    writer.protect_links = False
    writer.unicode_snob = True
    return writer.handle(html).strip()


def _mark_for(*texts: str) -> str:
    number = 0
    while any(f"ymark{number}y" in text for text in texts):
        number += 1
    return f"ymark{number}y"


def _safe(link: str) -> str:
    """A link that was written for one person, if it leads where a link may lead."""
    text = "".join(link.split())
    scheme = text.partition(":")[0].lower()
    return text if scheme in ("http", "https", "mailto", "tel") else "#"


def _pieces(text: str, mark: str) -> tuple[str | int, ...]:
    found = re.split(rf"{mark}(\d+)z", text)
    return tuple(int(one) if at % 2 else one for at, one in enumerate(found) if at % 2 or one)


def _released(text: str, mark: str, tokens: Sequence[str]) -> str:
    return re.sub(rf"{mark}(\d+)x", lambda found: tokens[int(found[1])], text)


def _numbered(framed: str, draw: Drawing, held: Mapping[int, list[str]]) -> tuple[str, list[str]]:
    """Number the links that can be counted, and say where each leads, as it was written."""
    links: list[str] = []
    sources = {number: one for one, number in draw.sources.items()}

    def written(address: str) -> str:
        for number, tokens in held.items():
            address = _released(address, f"{draw.mark}{number}t", tokens)
        return re.sub(rf"{draw.mark}(\d+)z", lambda found: sources[int(found[1])].text, address)

    def number(found: re.Match[str]) -> str:
        href = _HREF.search(found[0])
        if href is None:
            return found[0]
        address = written(unescape(href[1][1:-1])).strip()
        if address in ("", "#") or address.startswith(("mailto:", "tel:")):
            return found[0]
        if any(re.search(rf"\{{\{{\s*{name}\b", address) for name in _NOT_COUNTED):
            return found[0]
        if address not in links:
            links.append(address)
        return f'<a data-l="{links.index(address)}"{found[0][2:]}'

    return _ANCHOR.sub(number, framed), links


def _css(colours: Colours, dark: Colours) -> str:
    return f"""
      p, ul, ol {{ margin: 0 0 16px }}
      h1, h2, h3 {{ line-height: 1.25; margin: 8px 0 12px }}
      .line h1, .line h2, .line h3, h1.line, h2.line, h3.line {{ margin: 0; font-size: inherit }}
      a {{ color: {colours.accent} }}
      .foot a {{ color: inherit }}
      .foot p {{ margin: 0 0 8px }}
      .by {{ font-style: normal; font-size: 14px }}
      .quote-left > * {{ border-left: 3px solid {colours.rule}; padding-left: 14px }}
      .quote-right > * {{ border-right: 3px solid {colours.rule}; padding-right: 14px }}
      .by-night {{ display: none; mso-hide: all }}
      @media (prefers-color-scheme: dark) {{
        .by-day {{ display: none !important }}
        .by-night {{ display: table-cell !important }}
        body, .paper {{ background-color: {dark.paper} !important }}
        .sheet, .sheet > table {{ background-color: {dark.sheet} !important }}
        .sheet div, .sheet p, .sheet li, .sheet h1, .sheet h2, .sheet h3 {{ color: {dark.ink} !important }}
        .sheet a {{ color: {dark.accent} !important }}
        .rule > p, .quote-left > *, .quote-right > * {{ border-color: {dark.rule} !important }}
        .act td, .act a {{ background: {dark.accent} !important; color: {dark.sheet} !important }}
      }}
    """


def _mjml(
    document: MessageDocument,
    blocks: Sequence[Block],
    draw: Drawing,
    frame: Frame,
    language: str,
) -> str:
    style, colours = draw.style, draw.style.light
    side = direction(language)
    head = f"""<mjml lang="{escape(language)}" dir="{side}"><mj-head>
      <mj-title>{draw.slot("plain", document.subject)}</mj-title>
      {f"<mj-preview>{draw.slot('plain', document.preheader)}</mj-preview>" if document.preheader else ""}
      <mj-raw><meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark"></mj-raw>
      <mj-attributes>
        <mj-all font-family="{FACES[style.face]}" />
        <mj-text font-size="16px" line-height="1.55" color="{colours.ink}" padding="0" align="{draw.left}" />
        <mj-section direction="{side}" />
      </mj-attributes>
      <mj-style>{_css(colours, style.dark)}</mj-style>
    </mj-head>"""
    sections = [_top(draw, frame)]
    run: list[Block] = []
    for block in (*blocks, None):
        if block is not None and not isinstance(block, ColumnsBlock):
            run.append(block)
            continue
        if run:
            inside = "".join(one.mjml(draw) for one in run)
            sections.append(_section(f"<mj-column>{inside}</mj-column>", "8px 24px 0", colours))
            run = []
        if block is not None:
            sections.append(_section(block.mjml(draw), "8px 24px 0", colours))
    foot = (
        f'<mj-column><mj-divider css-class="rule" border-width="1px" border-color="{colours.rule}" padding="8px 0 12px" />'
        f'<mj-text css-class="foot" font-size="13px" line-height="1.5">{_foot(blocks, draw)}</mj-text>'
        "</mj-column>"
    )
    sections.append(_section(foot, "0 24px 20px", colours))
    return (
        f'{head}<mj-body background-color="{colours.paper}" width="{style.width}px" css-class="paper">'
        f"{''.join(sections)}</mj-body></mjml>"
    )


def _section(inside: str, padding: str, colours: Colours) -> str:
    return (
        f'<mj-section css-class="sheet" background-color="{colours.sheet}" padding="{padding}">'
        f"{inside}</mj-section>"
    )


def _top(draw: Drawing, frame: Frame) -> str:
    """The logo, in daylight and in the dark, or the sender's name."""
    logo = draw.pictures.get(draw.style.logo)
    dark = draw.pictures.get(draw.style.dark_logo)
    if logo is None:
        inside = (
            f'<mj-text font-weight="700" font-size="15px">{escape(frame.sender_name)}</mj-text>'
        )
    elif dark is None:
        inside = _logo(draw, frame, logo, "")
    else:
        inside = _logo(draw, frame, logo, "by-day") + _logo(draw, frame, dark, "by-night")
    return _section(f"<mj-column>{inside}</mj-column>", "22px 24px 12px", draw.style.light)


def _logo(draw: Drawing, frame: Frame, logo: PictureFacts, css_class: str) -> str:
    width = min(draw.style.logo_width, logo.width)
    alt = escape(logo.alt or frame.sender_name)
    return (
        f'<mj-image src="{logo.address}" srcset="{logo.address} 1x, {logo.sharp} 2x" alt="{alt}" '
        f'width="{width}px" align="{draw.left}" padding="0" css-class="{css_class}" />'
    )


def _foot(blocks: Sequence[Block], draw: Drawing) -> str:
    """What of the footer is placed nowhere else."""
    footers = {one: footer_html(one, draw) for one in _unplaced(blocks)}
    page = page_html(draw)
    links = " · ".join(one for one in (footers.get("leave"), footers.get("own_page"), page) if one)
    lines = [footers.get("sender", ""), footers.get("why", ""), links]
    ends = "<br />".join(one for one in lines if one)
    return "".join(
        f"<p>{one}</p>" for one in (footers.get("text"), footers.get("links"), ends) if one
    )


def _unplaced(blocks: Sequence[Block]) -> tuple[FooterPart, ...]:
    inside = [
        one
        for block in blocks
        for one in (
            [inner for column in block.columns for inner in column.blocks]
            if isinstance(block, ColumnsBlock)
            else [block]
        )
    ]
    placed = {one.part for one in inside if isinstance(one, FooterBlock)}
    return tuple(one for one in FOOTER_PARTS if one not in placed)


def _plain(document: MessageDocument, blocks: Sequence[Block], draw: Drawing) -> str:
    """The plain text: written by hand, or made of the blocks; and below it what has to stand there."""
    if document.text.strip():
        body = draw.words("plain", document.text)
    else:
        body = "\n\n".join(text for text in (block.plain(draw) for block in blocks) if text)
    # A text written by hand places nothing of the footer.
    placing = () if document.text.strip() else blocks
    foot = [*(footer_plain(one, draw) for one in _unplaced(placing)), page_plain(draw)]
    return body + "\n\n" + "\n".join(["-- ", *(one for one in foot if one)])
