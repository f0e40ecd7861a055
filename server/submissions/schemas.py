"""What several APIs say of a submission."""

from ninja import Schema


class Answer(Schema):
    """The answer to one question, exactly as received."""

    name: str
    text: str
