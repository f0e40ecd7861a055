"""How large a message may be."""

LONGEST_TEXT = 200_000
"""Characters of one part of a message, and of what it renders to."""
MOST_BLOCKS = 200
MOST_TAGS = 4_000
"""Tags in one part of a message."""
DEEPEST_TAGS = 60
"""Tags within each other: what lays letters out goes down by one call of a function for each."""
DEEPEST_READ = 200
"""The same of what comes in from outside: letters of tables within tables are read, and made simpler."""
MOST_READ_TAGS = 40_000
CUT_OFF = 100 * 1024
"""Bytes of HTML above which some mail programs show only the beginning (common practice)."""
LONG_SUBJECT = 60
"""Characters of a subject that a phone shows at the most (common practice)."""
