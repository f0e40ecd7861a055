"""What is said while starting, and how it stops with one plain sentence."""

import sys


class Stop(Exception):
    """Starting cannot go on; the text is the sentence that says why and what to do."""


def say(sentence: str) -> None:
    """Tell what is being done."""
    print(f"yalla: {sentence}", flush=True)


def complain(sentence: str) -> None:
    """Tell what went wrong."""
    print(f"yalla: {sentence}", file=sys.stderr, flush=True)
