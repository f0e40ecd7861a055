"""The process that renders what members wrote: reads questions by line, and answers each.

It is started by `sandbox.py`, knows nothing of the server, and has little memory.
"""

import json
import resource
import sys
from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from core.messages import (
    MessageDocument,
    PictureFacts,
    Source,
    check_document,
    needed,
    write,
)
from core.people import FieldFacts

MEMORY = 384 * 2**20
"""Bytes of address space; a text that needs more ends this process."""


def _dumped(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return {"is": type(value).__name__, **value.model_dump(mode="json")}
    return [_dumped(one) for one in value]


def answers(question: dict[str, Any]) -> Iterator[Any]:
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
        case "needed":
            yield list(needed(MessageDocument.model_validate(question["document"])))
        case other:
            raise ValueError(other)


def main() -> None:
    """Answer until there is nothing more to read."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    for line in sys.stdin:
        try:
            for said in answers(json.loads(line)):
                _say(said)
        except MemoryError:
            # Who asked takes the end for the answer, and asks another process for the rest.
            return


def _say(said: Any) -> None:
    sys.stdout.write(json.dumps(said) + "\n")
    sys.stdout.flush()


if __name__ == "__main__":
    main()
