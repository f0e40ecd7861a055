"""What is wrong with a description, before anybody connects by it."""

from collections.abc import Iterator
from urllib.parse import urlsplit

from pydantic import JsonValue

from ..documents import Finding
from .answers import path_problem
from .description import Call, ClientSignIn, CodeSignIn, ServiceDescription
from .templates import template_problem


def check_description(described: ServiceDescription) -> Iterator[Finding]:
    """Each fault with where it stands and what to do."""
    if not described.name.strip():
        yield _fault("name", "The description has no name.", "Name the program that it describes.")
    yield from _address(described.base)
    if described.see:
        if not described.see.startswith(("https://", "http://")):
            yield _fault(
                "see",
                f"“{described.see[:100]}” is no address of a page.",
                "Begin it with https://.",
            )
        if wrong := template_problem(described.see):
            yield _fault("see", f"It cannot be filled in: {wrong}.", "Correct the token.")
    if not described.operations and not described.hearing and not described.polling:
        yield _fault(
            "operations",
            "The description names nothing that can be done or heard.",
            "Add an operation, or what the service tells of itself.",
        )
    for place, call in described.calls():
        yield from _call(place, call)
    for place, path in described.paths():
        if path and (wrong := path_problem(path)):
            yield _fault(place, f"“{path}” is no JMESPath: {wrong}", "Correct the expression.")
    kinds = {one.kind for one in described.things}
    seen: set[str] = set()
    for one in described.operations:
        place = f"operations/{one.key}"
        if one.key in seen:
            yield _fault(place, f"Two operations are called {one.key}.", "Give one another key.")
        seen.add(one.key)
        for need in one.needs:
            if need.kind not in kinds:
                yield _fault(
                    place,
                    f"{one.label} asks for a {need.kind}, which the description does not read.",
                    "Add it to the things.",
                )
    if isinstance(described.sign_in, CodeSignIn | ClientSignIn):
        at = getattr(described.sign_in, "agree_at", "/"), described.sign_in.token_at
        for address in at:
            if not address.startswith("/"):
                yield from _address(address, "sign_in")


def _address(address: str, place: str = "base") -> Iterator[Finding]:
    try:
        parts = urlsplit(address)
        good = parts.scheme in ("http", "https") and parts.hostname and parts.port != 0
    except ValueError:
        good = False
    if not good or "@" in address:
        yield _fault(
            place,
            f"“{address[:100]}” is no address of a program.",
            "Give an address such as https://api.example.com/v1.",
        )


def _call(place: str, call: Call) -> Iterator[Finding]:
    if not call.path.startswith("/"):
        yield _fault(
            place, f"The path “{call.path}” does not begin with a slash.", "Begin it with one."
        )
    texts = [call.path, *call.query.values(), *call.headers.values(), *_texts(call.body)]
    for text in texts:
        if wrong := template_problem(text):
            yield _fault(
                place, f"“{text[:80]}” cannot be filled in: {wrong}.", "Correct the token."
            )
    for name, text in call.headers.items():
        if any(ord(one) < 32 or ord(one) > 126 for one in name + text):
            yield _fault(place, f"The header {name!a} has a character that no header can have.", "")


def _texts(body: JsonValue) -> Iterator[str]:
    if isinstance(body, str):
        yield body
    elif isinstance(body, list):
        for one in body:
            yield from _texts(one)
    elif isinstance(body, dict):
        for one in body.values():
            yield from _texts(one)


def _fault(place: str, sentence: str, fix: str) -> Finding:
    return Finding(code="description_fault", place=place, sentence=sentence, fix=fix)
