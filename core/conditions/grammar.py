"""The grammar of typed conditions: how parts follow each other, and the words that stand for each token."""

import re
from collections.abc import Mapping
from datetime import date
from functools import lru_cache

from lark import Lark

from .document import Comparison

GRAMMAR = Lark(
    r"""
    ?start: all | any | none | all_of | any_of | part
    all: part (AND part)+
    any: part (OR part)+
    none: NONE_OF part (SEMI part)*
    all_of: ALL_OF part (SEMI part)*
    any_of: ANY_OF part (SEMI part)*
    ?part: leaf | LPAR start RPAR | everybody | nobody | negated
    everybody: EVERYBODY
    nobody: NOBODY
    negated: NOT part
    ?leaf: field | answer | tag | membership | source | score | happened | run | frozen
    field: FIELD _compared
    answer: ANSWER QUESTION _compared
    _compared: (IS | IS_NOT | CONTAINS | NOT_CONTAINS | BEGINS | LESS | AT_MOST | MORE | AT_LEAST | BEFORE_DAY
             | AFTER_DAY | ONE_OF) VALUE (OR_VALUE VALUE)* EXACTLY?
             | (IN_LAST | IN_NEXT) NUMBER DAYS
             | EMPTY | NOT_EMPTY
    tag: (HAS_TAG | HAS_NO_TAG) TAG
    membership: (IS | IS_NOT) STATE (OR_STATE STATE)* (TO | ON) LIST
    source: CAME_FROM SOURCE (OR_SOURCE SOURCE)*
    score: SCORE (IS | IS_NOT | LESS | AT_MOST | MORE | AT_LEAST) NUMBER
    run: (CURRENTLY_IN | WAS_IN | NEVER_IN) SEQUENCE
    frozen: (IN_GROUP | NOT_IN_GROUP) GROUP
    happened: (NEVER? SUBMITTED (ANY_SOURCE | SOURCE)
             | NEVER? CONFIRMED (ANY_LIST | LIST)
             | (SENT | NEVER_SENT) (ANY_MESSAGE | MESSAGE)
             | NEVER? OPENED (ANY_MESSAGE | MESSAGE) ESTIMATE?
             | NEVER? CLICKED (LINK (WITH TEXT)? IN)? (ANY_MESSAGE | MESSAGE)
             | EVENT (NEVER? HAPPENED)? (WITH _detail (COMMA _detail)*)?
             | (ANY_EVENT | NO_EVENT) (WITH _detail (COMMA _detail)*)?) _when
    _detail: said | total
    said: A WORD | WORD COLON WORD
    total: WORD TIMES_AT_LEAST NUMBER IN_TOTAL
    _when: times? within? after? before?
    times: TIMES_AT_LEAST NUMBER TIMES | NUMBER THROUGH NUMBER TIMES
    within: WITHIN NUMBER (DAYS | HOURS)
    after: AFTER DAY
    before: (BEFORE | AND_BEFORE) DAY
    %declare AND OR NONE_OF ALL_OF ANY_OF SEMI LPAR RPAR EVERYBODY NOBODY NOT
    %declare FIELD ANSWER QUESTION IS IS_NOT CONTAINS NOT_CONTAINS BEGINS LESS AT_MOST MORE AT_LEAST BEFORE_DAY
    %declare AFTER_DAY ONE_OF VALUE OR_VALUE EXACTLY IN_LAST IN_NEXT NUMBER DAYS HOURS EMPTY NOT_EMPTY
    %declare HAS_TAG HAS_NO_TAG TAG STATE OR_STATE TO ON LIST CAME_FROM SOURCE OR_SOURCE SCORE CURRENTLY_IN WAS_IN
    %declare NEVER_IN SEQUENCE IN_GROUP NOT_IN_GROUP GROUP NEVER SUBMITTED ANY_SOURCE CONFIRMED ANY_LIST SENT
    %declare NEVER_SENT ANY_MESSAGE MESSAGE OPENED ESTIMATE CLICKED LINK WITH TEXT IN EVENT HAPPENED ANY_EVENT
    %declare NO_EVENT COMMA A WORD COLON TIMES_AT_LEAST IN_TOTAL TIMES THROUGH WITHIN AFTER BEFORE AND_BEFORE DAY
    """,
    parser="lalr",
    maybe_placeholders=False,
)
PHRASES: Mapping[str, tuple[str, ...]] = {
    "AND": ("and",),
    "OR": ("or",),
    "NONE_OF": ("none of:", "none of"),
    "ALL_OF": ("all of:", "all of"),
    "ANY_OF": ("any of:", "any of"),
    "SEMI": (";",),
    "LPAR": ("(",),
    "RPAR": (")",),
    "EVERYBODY": ("everybody",),
    "NOBODY": ("nobody",),
    "NOT": ("not",),
    "ANSWER": ("the answer to",),
    "IS": ("is",),
    "IS_NOT": ("is not",),
    "ONE_OF": ("is one of",),
    "CONTAINS": ("contains",),
    "NOT_CONTAINS": ("does not contain",),
    "BEGINS": ("begins with",),
    "LESS": ("is less than",),
    "AT_MOST": ("is at most",),
    "MORE": ("is more than",),
    "AT_LEAST": ("is at least",),
    "BEFORE_DAY": ("is before",),
    "AFTER_DAY": ("is after",),
    "IN_LAST": ("was in the last",),
    "IN_NEXT": ("is in the next",),
    "EMPTY": ("is empty",),
    "NOT_EMPTY": ("is not empty",),
    "EXACTLY": ("exactly",),
    "DAYS": ("days", "day"),
    "HOURS": ("hours", "hour"),
    "HAS_TAG": ("has the tag", "has tag"),
    "HAS_NO_TAG": ("does not have the tag", "does not have tag"),
    "TO": ("to",),
    "ON": ("on",),
    "CAME_FROM": ("came from",),
    "SCORE": ("the score", "score"),
    "CURRENTLY_IN": ("is currently in",),
    "WAS_IN": ("was in",),
    "NEVER_IN": ("was never in",),
    "IN_GROUP": ("is in the group",),
    "NOT_IN_GROUP": ("is not in the group",),
    "NEVER": ("never",),
    "SUBMITTED": ("submitted through",),
    "ANY_SOURCE": ("any source",),
    "CONFIRMED": ("confirmed",),
    "ANY_LIST": ("any list",),
    "SENT": ("was sent",),
    "NEVER_SENT": ("was never sent",),
    "OPENED": ("opened",),
    "ESTIMATE": ("(an estimate)",),
    "ANY_MESSAGE": ("any message",),
    "CLICKED": ("clicked",),
    "LINK": ("a link",),
    "WITH": ("with",),
    "IN": ("in",),
    "HAPPENED": ("happened",),
    "ANY_EVENT": ("any event happened",),
    "NO_EVENT": ("no event happened",),
    "COMMA": (",",),
    "A": ("a", "an"),
    "COLON": (":",),
    "TIMES_AT_LEAST": ("at least",),
    "IN_TOTAL": ("in total",),
    "TIMES": ("times", "time"),
    "THROUGH": ("to",),
    "WITHIN": ("in the last",),
    "AFTER": ("after",),
    "BEFORE": ("before",),
    "AND_BEFORE": ("and before",),
}
OPS: Mapping[str, Comparison] = {
    "IS": "is",
    "IS_NOT": "is_not",
    "ONE_OF": "one_of",
    "CONTAINS": "contains",
    "NOT_CONTAINS": "not_contains",
    "BEGINS": "begins",
    "LESS": "less",
    "AT_MOST": "at_most",
    "MORE": "more",
    "AT_LEAST": "at_least",
    "BEFORE_DAY": "before",
    "AFTER_DAY": "after",
    "IN_LAST": "in_last_days",
    "IN_NEXT": "in_next_days",
    "EMPTY": "empty",
    "NOT_EMPTY": "not_empty",
}
STATES = {
    "on no terms": "none",
    **{one: one for one in ("pending", "subscribed", "unsubscribed", "bounced", "complained")},
}
ASKS = {
    "ANSWER": "QUESTION",
    "CAME_FROM": "QUESTION",
    "IN_GROUP": "GROUP",
    "NOT_IN_GROUP": "GROUP",
    "HAS_TAG": "TAG",
    "HAS_NO_TAG": "TAG",
    "CURRENTLY_IN": "SEQUENCE",
    "WAS_IN": "SEQUENCE",
    "NEVER_IN": "SEQUENCE",
}
"""What there has to be, for a comparison to be proposed."""
MORE = {"OR_VALUE": "VALUE", "OR_STATE": "STATE", "OR_SOURCE": "SOURCE"}
"""An “or” between values of one comparison, and what follows it."""
THINGS = {
    "FIELD": "field",
    "TAG": "tag",
    "LIST": "list",
    "SOURCE": "source",
    "SEQUENCE": "sequence",
    "MESSAGE": "message",
    "GROUP": "group",
    "QUESTION": "question",
}
WANTED = {
    "VALUE": "a value",
    "NUMBER": "a number",
    "DAY": "a date, such as 1 March 2027",
    "WORD": "the name of what was said with it",
    "TEXT": "a part of the address, in quotation marks",
    "EVENT": "an event, in quotation marks",
    "STATE": "how they stand on a list",
    **{token: f"a {thing}" for token, thing in THINGS.items()},
}
QUOTED = re.compile(r'“((?:[^”\\]|\\.)*)”|"((?:[^"\\]|\\.)*)"', re.DOTALL)
NUMBER = re.compile(r"-?[0-9]{1,100}(?:\.[0-9]{1,100})?(?![\w.]*\w)")
ISO = re.compile(r"[0-9]{4}-[0-9]{2}-[0-9]{2}(?!\w)")
DAY = re.compile(r"([0-9]{1,2})\.? ([^\W\d_]+)(?: ([0-9]{4}))?(?!\w)")
WORD = re.compile(r"[^\W_][\w.\-]*(?<!\.)")
SPACE = re.compile(r"\s+")
END = re.compile(r"[\s();,]|$")
MONTHS = {f"{date(2000, number, 1):%B}".casefold(): number for number in range(1, 13)}
HAPPENED = {
    "submitted": {"SUBMITTED"},
    "confirmed": {"CONFIRMED"},
    "sent": {"SENT", "NEVER_SENT"},
    "opened": {"OPENED"},
    "clicked": {"CLICKED"},
}
BEGIN = (
    "LPAR", "NONE_OF", "ALL_OF", "ANY_OF", "EVERYBODY", "NOBODY", "NOT", "ANSWER", "HAS_TAG", "HAS_NO_TAG",
    "CAME_FROM", "SCORE", "CURRENTLY_IN", "WAS_IN", "NEVER_IN", "IN_GROUP", "NOT_IN_GROUP", "NEVER", "SUBMITTED",
    "CONFIRMED", "SENT", "NEVER_SENT", "OPENED", "CLICKED", "ANY_EVENT", "NO_EVENT", "IS", "IS_NOT",
)  # fmt: skip
"""What a part can begin with, besides the name of a field or an event."""


def order_of(kind: str) -> tuple[int, str]:
    """What is offered first: names and values, then words, then signs and brackets."""
    late = kind in ("LPAR", "RPAR", "NOT", "NONE_OF", "ALL_OF", "ANY_OF", "EVERYBODY", "NOBODY")
    return (0 if kind not in PHRASES and kind != "FIELD" else 3 if late else 1, kind)


@lru_cache(maxsize=512)
def pattern_of(phrase: str) -> re.Pattern[str]:
    """A phrase, in whatever case and spacing, as whole words."""
    words = r"\s+".join(map(re.escape, phrase.split()))
    return re.compile(words + (r"(?!\w)" if phrase[-1].isalnum() else ""), re.IGNORECASE)
