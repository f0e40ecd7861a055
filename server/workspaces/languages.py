"""Pages and emails in the language of whoever reads them.

The members' interface is English. What visitors and subscribers read is translated by Django's
catalogues (`server/locale`); a language without a catalogue has English texts around its own.
"""

import re
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import translation

from core.values import direction
from core.wording import About, Text, as_formats, texts_of

from .shapes import Json

_own: ContextVar[Mapping[str, str] | None] = ContextVar("own words", default=None)


def best_of(tag: str) -> str:
    """The catalogue for a BCP 47 tag: de-AT is German."""
    first = tag.replace("_", "-").partition("-")[0].lower()
    return first if first in dict(settings.LANGUAGES) else "en"


@dataclass(frozen=True)
class Voice:
    """How a source or a list speaks: its language, and its own words for fixed texts."""

    language: str
    about: About
    words: Mapping[str, str] = field(default_factory=dict)


@contextmanager
def speaking(voice: str | Voice) -> Iterator[None]:
    """Texts in this language, by `said` in the words of the source or list."""
    own = as_formats(voice.words, voice.about) if isinstance(voice, Voice) else {}
    before = _own.set(own)
    try:
        with translation.override(best_of(_language(voice))):
            yield
    finally:
        _own.reset(before)


def translated(text: str) -> str:
    """A fixed text in the words of whoever speaks: their own, or the usual ones of the language."""
    return (_own.get() or {}).get(text) or translation.gettext(text)


def usual_words(about: About, tag: str) -> Iterator[tuple[Text, str]]:
    """What can be worded otherwise, and how it is said in this language: tokens as `{{ list }}`."""
    with speaking(tag):
        for text in texts_of(about):
            yield text, re.sub(r"%\((\w+)\)s", r"{{ \1 }}", translated(text.usual))


def _language(voice: str | Voice) -> str:
    return voice if isinstance(voice, str) else voice.language


def render_in(
    voice: str | Voice,
    request: HttpRequest,
    template: str,
    context: Json | None = None,
    status: int = 200,
) -> HttpResponse:
    """A public page in this language and these words."""
    with speaking(voice):
        around = spoken(_language(voice))
        return render(request, template, {**around, **(context or {})}, status=status)


def render_for(
    request: HttpRequest, template: str, context: Json | None = None, status: int = 200
) -> HttpResponse:
    """A public page that belongs to nobody in particular, in the browser's language."""
    tag = translation.get_language_from_request(request)
    return render_in(tag, request, template, context, status)


def spoken(tag: str) -> dict[str, str]:
    """What a page says of its language."""
    return {"language": tag or "en", "direction": direction(tag)}
