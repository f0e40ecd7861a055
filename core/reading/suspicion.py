"""Whether a post looks like a program's: it is then held, kept and visible, not routed."""

LEAST_SECONDS = 1.5
"""Nobody reads a form and answers it faster (from memory, no published source)."""
MOST_USES = 4
"""Posts of one rendering: a visitor corrects an answer a few times at the most."""


def suspicion(
    *, honeypot: str, seconds: float | None, uses: int = 0, from_address: int = 0, most: int = 0
) -> str:
    """Why a post should be held; empty if nothing speaks against it.

    `honeypot` is the answer to a box that people do not see; `seconds` the time since the form
    was shown (None: not known); `uses` the earlier posts of this rendering; `from_address`
    the earlier ones from the same network address within ten minutes, and `most` how many
    of those are taken (0: any number).
    """
    if honeypot.strip():
        return "a box that people do not see was filled in"
    if seconds is not None and seconds < LEAST_SECONDS:
        return f"sent {max(seconds, 0):.1f} s after the form was shown"
    if uses >= MOST_USES:
        return "one opened form was sent many times"
    if most and from_address >= most:
        return f"more than {most} from one network address in ten minutes"
    return ""
