"""How large a message may be."""

LONGEST_TEXT = 200_000
"""Characters of one part of a message, and of what it renders to."""
MOST_BLOCKS = 200
CUT_OFF = 100 * 1024
"""Bytes of HTML above which some mail programs show only the beginning (common practice)."""
LONG_SUBJECT = 60
"""Characters of a subject that a phone shows at the most (common practice)."""
