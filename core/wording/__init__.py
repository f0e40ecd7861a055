"""The fixed texts that visitors and subscribers read, and a workspace's own words for them."""

from .own_words import OwnWords, as_formats, check_words, own_text
from .texts import FORM_TEXTS, LIST_TEXTS, About, Text, texts_of

__all__ = [
    "FORM_TEXTS",
    "LIST_TEXTS",
    "About",
    "OwnWords",
    "Text",
    "as_formats",
    "check_words",
    "own_text",
    "texts_of",
]
