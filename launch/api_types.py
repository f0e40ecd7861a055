"""The OpenAPI description and the TypeScript types made from it: write them, or check them."""

import subprocess
import sys
import tempfile
from pathlib import Path

from .builds import PYTHON, ROOT, WEB

DESCRIPTION = ROOT / "docs" / "openapi.json"
TYPES = WEB / "src" / "api" / "schema.ts"


def make(description: Path, types: Path) -> None:
    """Write the description of the API as it is, and the types of it."""
    with description.open("w") as file:
        subprocess.run([str(PYTHON), "manage.py", "openapi"], cwd=ROOT, stdout=file, check=True)
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(description), "-o", str(types)],
        cwd=WEB,
        check=True,
        capture_output=True,
    )


def main(words: list[str]) -> int:
    """Write both; with --check, say whether those in the checkout are current."""
    if "--check" not in words:
        make(DESCRIPTION, TYPES)
        return 0
    with tempfile.TemporaryDirectory() as name:
        description, types = Path(name) / "openapi.json", Path(name) / "schema.ts"
        make(description, types)
        if (
            description.read_text() == DESCRIPTION.read_text()
            and types.read_text() == TYPES.read_text()
        ):
            return 0
    print("The API has changed: run python -m launch.api_types and commit what it writes.")
    return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
