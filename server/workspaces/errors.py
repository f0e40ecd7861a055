"""Errors of the actions, and of the API: RFC 9457 problem details."""

from core.documents import Problem


class Refused(Exception):
    """An action that cannot be done, with what is wrong, where, and what to do."""

    status = 422

    def __init__(
        self, title: str, problems: tuple[Problem, ...] = (), *, status: int | None = None
    ) -> None:
        super().__init__(title, *(one.sentence for one in problems))
        self.title = title
        self.status = status or self.status
        self.problems = problems


class Conflict(Refused):
    """Somebody else changed it in the meantime."""

    status = 409


class NotFound(Refused):
    """It is not there, or belongs to another workspace."""

    status = 404


class Forbidden(Refused):
    """The member's role does not allow it."""

    status = 403


def refuse(code: str, place: str, sentence: str, fix: str = "") -> Refused:
    """An error about one place of what was sent."""
    return Refused(sentence, (Problem(code=code, place=place, sentence=sentence, fix=fix),))
