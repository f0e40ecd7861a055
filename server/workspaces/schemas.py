"""What several rooms take and give."""

from ninja import Schema


class NameIn(Schema):
    name: str


class TurnOnIn(Schema):
    """`based_on`: the edits of the draft that was seen; null turns on whatever is there."""

    note: str = ""
    based_on: int | None = None


class BasedOn(Schema):
    """The edits of the draft that was seen, which is replaced; null: whatever is there."""

    based_on: int | None = None


class Done(Schema):
    """How many an action touched."""

    count: int
