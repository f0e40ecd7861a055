"""Yes or no, as check boxes, spreadsheets and people write it."""

from ..documents import Problem, folded

# "on" is what a ticked check box without a value sends (WHATWG HTML, form submission).
_YES = frozenset({"on", "yes", "true", "1", "y"})
_NO = frozenset({"off", "no", "false", "0", "n"})


def read_yes_no(
    text: str, yes_words: tuple[str, ...] = (), no_words: tuple[str, ...] = ()
) -> bool | Problem:
    """True for a yes, False for a no; anything else is a problem, not a guess.

    `yes_words` and `no_words` are what the source itself states, and come first.
    """
    word = folded(text)
    if word in map(folded, yes_words):
        return True
    if word in map(folded, no_words):
        return False
    if word in _YES:
        return True
    if word in _NO:
        return False
    return Problem(
        code="not_yes_or_no",
        sentence=f"“{text.strip()[:80]}” is neither yes nor no.",
        fix="Use yes or no, true or false, 1 or 0, or a check box.",
    )
