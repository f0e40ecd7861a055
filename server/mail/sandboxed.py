"""The process that renders, lays out and reads what members wrote: reads questions by line, and answers each.

It is started by `sandbox.py`, knows nothing of the server, and has little memory.
"""

import json
import resource
import sys
from base64 import b64decode
from collections.abc import Callable, Iterable, Iterator
from dataclasses import asdict

from pydantic import BaseModel

from core.documents import Problem
from core.messages import (
    Frame,
    HouseStyle,
    Incoming,
    MessageDocument,
    PictureFacts,
    Series,
    Source,
    as_eml,
    as_html,
    check_document,
    from_eml,
    from_html,
    from_mjml,
    lay_out,
    mjml_of,
    needed,
    read_returned,
    read_series,
    write,
)
from core.people import FieldFacts
from server.workspaces.shapes import Json

MEMORY = 384 * 2**20
"""Bytes of address space; a text that needs more ends this process."""


def _dumped(value: BaseModel | Iterable[BaseModel]) -> object:
    if isinstance(value, BaseModel):
        return {"is": type(value).__name__, **value.model_dump(mode="json")}
    return [_dumped(one) for one in value]


def answers(question: Json) -> Iterator[object]:
    """What is asked: to write some parts for each of many people, to check a message, or which tokens
    it needs."""
    match question["do"]:
        case "write":
            sources = [Source(kind, text) for kind, text in question["parts"]]
            for context in question["contexts"]:
                yield _dumped(write(sources, context))
        case "check":
            found = check_document(
                question["name"],
                MessageDocument.model_validate(question["document"]),
                {
                    key: FieldFacts(**{**one, "choices": ()})
                    for key, one in question["fields"].items()
                },
                {key: PictureFacts(**one) for key, one in question["pictures"].items()},
                has_file=question["has_file"],
            )
            yield _dumped(tuple(found))
        case "lay_out":
            template = lay_out(
                MessageDocument.model_validate(question["document"]),
                frozenset(question["hidden"]),
                *_around(question),
            )
            yield asdict(template)
        case "export":
            document = MessageDocument.model_validate(question["document"])
            if question["form"] == "mjml":
                yield mjml_of(document, *_around(question))
            elif question["form"] == "html":
                yield as_html(document, *_around(question))
            else:
                yield as_eml(document, *_around(question), question["sender"]).decode("latin-1")
        case "read":
            yield _incoming(_READ[question["form"]](b64decode(question["content"])))
        case "series":
            yield _series(read_series(question["form"], b64decode(question["content"])))
        case "returned":
            found_back = asdict(read_returned(b64decode(question["content"])))
            yield {**found_back, "failed": sorted(found_back["failed"])}
        case "needed":
            yield list(needed(MessageDocument.model_validate(question["document"])))
        case other:
            raise ValueError(other)


def _around(question: Json) -> tuple[HouseStyle, Frame, dict[str, PictureFacts]]:
    """What a message is laid out with."""
    pictures = {key: PictureFacts(**one) for key, one in question["pictures"].items()}
    return HouseStyle.model_validate(question["style"]), Frame(**question["frame"]), pictures


def _incoming(found: Incoming | Problem) -> object:
    if isinstance(found, Problem):
        return _dumped(found)
    document = found.document.model_dump(mode="json")
    return {"is": "Incoming", "document": document, "left_out": found.left_out}


def _series(found: Series | Problem) -> object:
    if isinstance(found, Problem):
        return _dumped(found)
    emails = [one.model_dump(mode="json") for one in found.emails]
    return {"is": "Series", "emails": emails, "left_out": found.left_out}


def _text(content: bytes) -> str:
    return content.decode("utf-8-sig", "replace").replace("\x00", "")


_READ: dict[str, Callable[[bytes], Incoming | Problem]] = {
    "eml": from_eml,
    "html": lambda content: from_html(_text(content)),
    "mjml": lambda content: from_mjml(_text(content)),
}


def main() -> None:
    """Answer until there is nothing more to read."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    for line in sys.stdin:
        try:
            for answer in answers(json.loads(line)):
                _say(answer)
        except MemoryError:
            # Who asked takes the end for the answer, and asks another process for the rest.
            return


def _say(answer: object) -> None:
    sys.stdout.write(json.dumps(answer) + "\n")
    sys.stdout.flush()


if __name__ == "__main__":
    main()
