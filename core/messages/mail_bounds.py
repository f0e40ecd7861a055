"""Bounds on an email from strangers, on its bytes, before any parser sees them.

Parsers of email take time that grows with the square of long headers, of many parameters and of parts within
parts. No genuine bounce, complaint or reply comes near these bounds (RFC 5322 2.1.1: 998 characters a line).
"""

import re

LONGEST_LINE = 2_000
LONGEST_HEADER = 8_000
"""Bytes of one header with its continuation lines."""
MOST_HEADERS = 300
"""Header lines of one part, continuation lines not counted."""
MOST_PARTS = 60
"""Parts of the whole email."""
MOST_PARAMETERS = 30
"""Parameters of a header: what follows is cut off."""
_MULTIPART = re.compile(rb"(?im)^content-type:\s*(?:multipart|message)/")
_MOST_MULTIPARTS = 12
_BOUNDARY = re.compile(rb"(?m)^--\S")
_HEADER = re.compile(rb"^[\x21-\x39\x3b-\x7e]+:")


def bounded_email(content: bytes, largest: int) -> bytes:
    """An email within the bounds: too long headers and lines are cut, and of one with too many parts only
    what stands before them is left."""
    raw = content[:largest]
    lines: list[bytes] = []
    header = headers = 0
    in_header = True
    for line in raw.split(b"\n"):
        kept = line[:LONGEST_LINE]
        if not line.strip():
            in_header, headers = False, 0
        elif not in_header and _HEADER.match(line) and (not lines or lines[-1].startswith(b"--")):
            # The headers of a part begin.
            in_header = True
        if in_header:
            if line[:1] in (b" ", b"\t"):
                header += len(kept)
                if header > LONGEST_HEADER or headers > MOST_HEADERS:
                    continue
            else:
                header, headers = len(kept), headers + 1
                if headers > MOST_HEADERS:
                    continue
            if kept.count(b";") > MOST_PARAMETERS:
                kept = b";".join(kept.split(b";")[:MOST_PARAMETERS])
        lines.append(kept)
    bounded = b"\n".join(lines)
    return _without_parts(bounded)


def _without_parts(content: bytes) -> bytes:
    """Cut where a part too many begins."""
    ends = len(content)
    for number, found in enumerate(_MULTIPART.finditer(content), start=1):
        if number > _MOST_MULTIPARTS:
            ends = min(ends, found.start())
            break
    for number, found in enumerate(_BOUNDARY.finditer(content), start=1):
        if number > MOST_PARTS:
            ends = min(ends, found.start())
            break
    return content[:ends]
