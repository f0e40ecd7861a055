"""The page that a visitor goes to after a form."""

from urllib.parse import parse_qsl, urlencode, urlsplit, urlunsplit

from ..reading import Answers, answer_to
from .route_document import VisitorSees


def next_page(sees: VisitorSees, answers: Answers) -> str | None:
    """The address of the page that the visitor goes to, or None where a text is shown.

    Only the address that the sheet holds is ever gone to; answers become query
    parameters, encoded as application/x-www-form-urlencoded (WHATWG URL).
    """
    if sees.kind != "page" or not is_web_address(sees.address):
        return None
    parts = urlsplit(sees.address.strip())
    query = parse_qsl(parts.query, keep_blank_values=True)
    for passing in sees.passing:
        answer = answer_to(answers, passing.question)
        if passing.parameter and answer:
            query.append((passing.parameter, answer))
    return urlunsplit(parts._replace(query=urlencode(query)))


def is_web_address(address: str) -> bool:
    """Whether `address` is an absolute http or https address that a browser can go to."""
    try:
        parts = urlsplit(address.strip())
        return (
            parts.scheme in ("http", "https")
            and bool(parts.hostname)
            and not any(sign.isspace() or ord(sign) < 32 for sign in address.strip())
        )
    except ValueError:
        return False
