"""What several rooms take and give."""

from ninja import Schema


class NameIn(Schema):
    name: str


class TurnOnIn(Schema):
    note: str = ""


class Done(Schema):
    """How many an action touched."""

    count: int
