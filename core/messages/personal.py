"""Personal text: Liquid, sandboxed, where a missing value is a hole and never a blank.

A value inserted into HTML is escaped, into a header it holds no line break, into a link
it is encoded. Nothing can be included; there are no ranges, and every value, loop and output is
bounded. Whoever renders what others wrote does so with limits of time and memory besides
(`server/mail/sandbox.py`).
"""

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextvars import ContextVar
from functools import lru_cache, update_wrapper
from html import unescape
from typing import Any

from liquid import BoundTemplate, Environment, Undefined
from liquid.exceptions import LiquidError, ResourceLimitError
from markupsafe import Markup

from ..documents import Frozen, Problem
from ..people import FieldFacts, Person
from ..reading import Answers
from .addresses import TOKEN
from .blocks import Source
from .frame import PAGE_LINK
from .limits import LONGEST_TEXT

_holes: ContextVar[list[str] | None] = ContextVar("holes", default=None)


class _Hole(Undefined):
    """A token without a value: prints nothing, and is reported."""

    def __str__(self) -> str:
        holes = _holes.get()
        if holes is not None and self.name not in holes:
            holes.append(self.name)
        return ""

    def __html__(self) -> str:
        return str(self)


_LONGEST_VALUE = 20_000
"""Characters of a value that a filter makes, and a tenth of it the items of a list."""
_LARGEST_NUMBER = 10**15


class _Sandbox(Environment):
    """Liquid without files, and with limits."""

    output_stream_limit = LONGEST_TEXT
    loop_iteration_limit = 1_000
    local_namespace_limit = 100_000
    context_depth_limit = 20

    def __init__(self, *, autoescape: bool) -> None:
        super().__init__(undefined=_Hole, autoescape=autoescape)
        for name in ("include", "render"):
            del self.tags[name]
        for name, one in list(self.filters.items()):
            self.filters[name] = _bounded(one)


def _bounded(one: Any) -> Callable[..., Any]:
    """A filter that makes no value larger than a text of an email needs."""

    def run(*args: Any, **kwargs: Any) -> Any:
        return _within(one(*args, **kwargs))

    update_wrapper(run, one, updated=())
    for mark in ("with_context", "with_environment"):
        if hasattr(one, mark):
            setattr(run, mark, getattr(one, mark))
    return run


def _within(value: Any) -> Any:
    large = (
        (isinstance(value, str) and len(value) > _LONGEST_VALUE)
        or (isinstance(value, list | tuple) and len(value) > _LONGEST_VALUE // 10)
        or (isinstance(value, int | float) and abs(value) > _LARGEST_NUMBER)
    )
    if large:
        raise ResourceLimitError("a value is larger than an email needs", token=None)
    return value


_QUOTED = re.compile(r""""[^"]*"|'[^']*'""")


def _unbounded(source: str) -> Problem | None:
    """What Liquid is not even shown: a text that is far too long, tokens that do not close or
    stand in one another, and ranges. In one pass, whatever the text is."""
    if len(source) > LONGEST_TEXT:
        return TOO_COSTLY
    for opens, inside, closes in _pieces(source):
        if not closes or "{{" in inside or "{%" in inside:
            return Problem(
                code="not_liquid",
                sentence=f"A token that begins with “{opens}” does not end.",
                fix="Check the braces: a token looks like {{ first_name }}.",
            )
        if ".." in _QUOTED.sub("", inside):
            return Problem(
                code="too_costly",
                sentence="A text cannot use ranges such as (1..5).",
                fix="Write the items out.",
            )
    return None


def _pieces(source: str) -> Iterator[tuple[str, str, bool]]:
    """The tokens and tags of a source: how each opens, what is in it, and whether it closes."""
    at = 0
    while True:
        found = [
            (where, opens, closes)
            for opens, closes in (("{{", "}}"), ("{%", "%}"))
            if (where := source.find(opens, at)) >= 0
        ]
        if not found:
            return
        where, opens, closes = min(found)
        end = source.find(closes, where + 2)
        yield opens, source[where + 2 : end if end >= 0 else len(source)], end >= 0
        if end < 0:
            return
        at = end + 2


TOO_COSTLY = Problem(
    code="too_costly",
    sentence="The text takes too much time or memory to write.",
    fix="Take out loops and filters that are not needed.",
)


_html = _Sandbox(autoescape=True)
_plain = _Sandbox(autoescape=False)

_LINK = re.compile(r"""(\b(?:href|src)\s*=\s*)("[^"]*"|'[^']*')""", re.IGNORECASE)


class Written(Frozen):
    """The parts for one person, and the tokens that had neither value nor fallback."""

    parts: tuple[str, ...]
    holes: tuple[str, ...] = ()


def context_of(
    person: Person, fields: Mapping[str, FieldFacts], answers: Answers = ()
) -> dict[str, object]:
    """What the tokens can name: each field by its key, and the answers of the submission.

    Empty values are left out, so that they count as missing. A choice reads as its label.
    """
    context: dict[str, object] = {"email": person.address}
    for one in fields.values():
        value = person.values.get(one.key)
        if value not in (None, "", ()):
            context[one.key] = value if isinstance(value, bool) else one.shown(value)
    context["answers"] = {name: text for name, text in answers if text.strip()}
    return context


def write(sources: Sequence[Source], context: Mapping[str, object]) -> Written | Problem:
    """Write each part for one person; one that Liquid cannot read is a problem."""
    for source in sources:
        problem = _unbounded(source.text)
        if problem is not None:
            return problem
    holes: list[str] = []
    token = _holes.set(holes)
    try:
        parts = [_parsed(source).render(**context) for source in sources]
    except ResourceLimitError:
        return TOO_COSTLY
    except (LiquidError, RecursionError) as error:
        return unreadable(error)
    finally:
        _holes.reset(token)
    if sum(len(part) for part in parts) > 4 * LONGEST_TEXT:
        return TOO_COSTLY
    return Written(parts=tuple(str(Markup(part)) for part in parts), holes=tuple(holes))


def tokens_of(source: Source) -> tuple[str, ...] | Problem:
    """What a part names, or why it cannot be read."""
    wrong = _unbounded(source.text)
    if wrong is not None:
        return wrong
    try:
        return tuple(sorted(_parsed(source).analyze().globals))
    except (LiquidError, RecursionError) as error:
        return unreadable(error)


@lru_cache(maxsize=128)
def _parsed(source: Source) -> BoundTemplate:
    if source.kind == "html":
        return _html.from_string(encode_in_links(source.text))
    text = _encoded(source.text) if source.kind == "link" else source.text
    return _plain.from_string(text)


def encode_in_links(body: str) -> str:
    """The body with every token inside a link made to encode its value for an address."""

    def encode_link(found: re.Match[str]) -> str:
        return found[1] + _encoded(found[2])

    return _LINK.sub(encode_link, body)


def _encoded(address: str) -> str:
    """A link with its tokens encoded; in one pass, also where one does not close."""
    first, *rest = address.split("{{")
    found = [first]
    for piece in rest:
        token, closes, after = piece.partition("}}")
        name = token.strip()
        if not closes:
            found.append(piece)
        elif name in (*OWN_LINKS, PAGE_LINK) or name.endswith("| url_encode"):
            found.append(f"{token}}}}}{after}")
        else:
            found.append(f"{token.rstrip()} | url_encode }}}}{after}")
    return "{{".join(found)


OWN_LINKS = ("confirm_link", "file_link", "own_page", "leave_link")
"""Tokens that stand for addresses of this server."""


def hold_tokens(text: str, mark: str) -> tuple[str, list[str]]:
    """A piece of HTML with a stand-in for each token, so that whatever reads it leaves them alone;
    and the tokens, as Liquid reads them."""
    tokens: list[str] = []

    def keep(found: re.Match[str]) -> str:
        tokens.append(unescape(found[0]))
        return f"{mark}{len(tokens) - 1}x"

    return TOKEN.sub(keep, text), tokens


def unreadable(error: Exception) -> Problem:
    """A part that Liquid cannot read, as a problem."""
    return Problem(
        code="not_liquid",
        sentence=f"The text cannot be read: {str(error).splitlines()[0][:160]}.",
        fix="Check the braces: a token looks like {{ first_name }}.",
    )
