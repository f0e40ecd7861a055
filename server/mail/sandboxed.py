"""The process that renders what members wrote: reads questions by line, and answers each.

It is started by `sandbox.py`, knows nothing of the server, and has little memory.
"""

import json
import resource
import sys
from typing import Any

from pydantic import BaseModel

from core.messages import (
    TOO_COSTLY,
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


def answer(question: dict[str, Any]) -> Any:
    """What is asked: to write some parts, to check a message, or which tokens it needs."""
    match question["do"]:
        case "write":
            sources = [Source(kind, text) for kind, text in question["parts"]]
            return _dumped(write(sources, question["context"]))
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
            return _dumped(tuple(found))
        case "needed":
            return list(needed(MessageDocument.model_validate(question["document"])))
    raise ValueError(question["do"])


def main() -> None:
    """Answer until there is nothing more to read."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    for line in sys.stdin:
        try:
            said = answer(json.loads(line))
        except MemoryError:
            said = _dumped(TOO_COSTLY)
        sys.stdout.write(json.dumps(said) + "\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
