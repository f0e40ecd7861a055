"""Pages and emails in the language of whoever reads them.

The members' interface is English. What visitors and subscribers read is translated by Django's
catalogues (`server/locale`); a language without a catalogue has English texts around its own.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import translation

from core.values import direction


def best_of(tag: str) -> str:
    """The catalogue for a BCP 47 tag: de-AT is German."""
    first = tag.replace("_", "-").partition("-")[0].lower()
    return first if first in dict(settings.LANGUAGES) else "en"


@contextmanager
def speaking(tag: str) -> Iterator[None]:
    """Texts in this language."""
    with translation.override(best_of(tag)):
        yield


def render_in(
    tag: str,
    request: HttpRequest,
    template: str,
    context: dict[str, Any] | None = None,
    status: int = 200,
) -> HttpResponse:
    """A public page in this language."""
    with speaking(tag):
        return render(request, template, {**spoken(tag), **(context or {})}, status=status)


def render_for(
    request: HttpRequest, template: str, context: dict[str, Any] | None = None, status: int = 200
) -> HttpResponse:
    """A public page that belongs to nobody in particular, in the browser's language."""
    tag = translation.get_language_from_request(request)
    return render_in(tag, request, template, context, status)


def spoken(tag: str) -> dict[str, str]:
    """What a page says of its language."""
    return {"language": tag or "en", "direction": direction(tag)}
