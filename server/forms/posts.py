"""A visitor's post, as pairs of name and text in the order of the post, and the body as it came.

Urlencoded by the parser of the WHATWG URL standard (5.1), multipart by Django's (RFC 7578).
"""

import io
from dataclasses import dataclass
from typing import NoReturn
from urllib.parse import unquote_to_bytes

import webencodings
from django.conf import settings
from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent
from django.core.files.uploadhandler import FileUploadHandler
from django.http import HttpRequest, QueryDict
from django.http.multipartparser import MultiPartParser

from core.documents import clean
from core.reading import Answers

_LONGEST = 20_000
_CHARSET = "_charset_"


class FilesNotTaken(Exception):
    """A form takes no files."""


class NoFiles(FileUploadHandler):
    """Refuses a file at its first byte; a file box that was left empty is no file."""

    def new_file(self, *args: object, **kwargs: object) -> NoReturn:
        raise FilesNotTaken

    def receive_data_chunk(self, raw_data: bytes, start: int) -> None:
        return None

    def file_complete(self, file_size: int) -> None:
        return None


@dataclass(frozen=True)
class Post:
    """What was sent: the pairs, and the body with its type."""

    pairs: Answers
    body: bytes
    content_type: str


def read_post(request: HttpRequest) -> Post:
    """The post, within the bounds of a form: 64 KB and 200 fields."""
    limit = settings.LARGEST_PUBLIC_BODY
    if int(request.META.get("CONTENT_LENGTH") or 0) > limit:
        raise RequestDataTooBig
    body = request.body
    content_type = request.META.get("CONTENT_TYPE", "")[:200]
    stated = (request.content_params or {}).get("charset", "")
    if request.content_type == "multipart/form-data":
        pairs = _multipart(request, body, stated)
    else:
        pairs = _urlencoded(body, stated)
    if len(pairs) > settings.DATA_UPLOAD_MAX_NUMBER_FIELDS:
        raise TooManyFieldsSent
    return Post(tuple(pairs), body, content_type)


def _urlencoded(body: bytes, stated: str) -> list[tuple[str, str]]:
    if body.count(b"&") > settings.DATA_UPLOAD_MAX_NUMBER_FIELDS:
        raise TooManyFieldsSent
    raw = []
    for piece in filter(None, body.split(b"&")):
        name, _, text = piece.replace(b"+", b" ").partition(b"=")
        raw.append((unquote_to_bytes(name), unquote_to_bytes(text)))
    named = dict(raw).get(_CHARSET.encode(), b"").decode("ascii", "replace")
    charset = _codec(named or stated)
    return [(_text(name, charset)[:200], _text(text, charset)) for name, text in raw]


def _multipart(request: HttpRequest, body: bytes, stated: str) -> list[tuple[str, str]]:
    def parsed(charset: str) -> QueryDict:
        parser = MultiPartParser(request.META, io.BytesIO(body), [NoFiles(request)], charset)
        return parser.parse()[0]

    found = parsed(_codec(stated))
    named = _codec(found.get(_CHARSET, ""))
    if found.get(_CHARSET) and named != _codec(stated):
        found = parsed(named)
    return [
        (clean(name)[:200], clean(text)[:_LONGEST])
        for name, texts in found.lists()
        for text in texts
    ]


def _codec(label: str) -> str:
    """The codec of an encoding's label by the WHATWG Encoding standard; UTF-8 where it is none of
    its labels: a page may name any codec of Python's, and many of those decode no text."""
    found = webencodings.lookup(label) if label.isascii() else None
    return str(found.codec_info.name) if found else "utf-8"


def _text(raw: bytes, charset: str) -> str:
    try:
        return clean(raw.decode(charset))[:_LONGEST]
    except ValueError:
        # Not what it says. UTF-8 is hard to mistake; else it is a page in Windows-1252.
        other = "windows-1252" if charset == "utf-8" else "utf-8"
        return clean(raw.decode(other, "replace"))[:_LONGEST]
