"""The OpenAPI description, the TypeScript types made from it, and what the screens need of the
rules: write them, or check them."""

import subprocess
import sys
import tempfile
from pathlib import Path

from .builds import PYTHON, ROOT, WEB

DESCRIPTION = ROOT / "docs" / "openapi.json"
TYPES = WEB / "src" / "api" / "schema.ts"
RULES = WEB / "src" / "api" / "rules.json"


def make(description: Path, types: Path, rules: Path) -> None:
    """Write the description of the API as it is, the types of it, and the rules for the screens."""
    for path, words in ((description, []), (rules, ["--rules"])):
        with path.open("w") as file:
            command = [str(PYTHON), "manage.py", "openapi", *words]
            subprocess.run(command, cwd=ROOT, stdout=file, check=True)
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(description), "-o", str(types)],
        cwd=WEB,
        check=True,
        capture_output=True,
    )


def main(words: list[str]) -> int:
    """Write them; with --check, say whether those in the checkout are current."""
    kept = (DESCRIPTION, TYPES, RULES)
    if "--check" not in words:
        make(*kept)
        return 0
    with tempfile.TemporaryDirectory() as name:
        fresh = [Path(name) / one.name for one in kept]
        make(*fresh)
        if all(
            one.read_text() == other.read_text() for one, other in zip(fresh, kept, strict=True)
        ):
            return 0
    print("The API has changed: run python -m launch.api_types and commit what it writes.")
    return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
