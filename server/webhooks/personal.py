"""What this room holds of people: calls as they came."""

from django.db.models import F, Func, IntegerField, Value

from server.workspaces.personal import Subject, holds_people

from .hooks import forget_calls
from .models import Call


class _Position(Func):
    """Where some bytes stand in others, from 1; 0: nowhere."""

    template = "position(%(expressions)s)"
    arg_joiner = " IN "
    output_field = IntegerField()


def _erase_calls(subject: Subject) -> None:
    """Calls whose submission is forgotten, and those that were refused and name the address."""
    forget_calls(subject.workspace)
    rows = Call.objects.of(subject.workspace)
    for spelling in {*subject.addresses, *subject.keys}:
        found = rows.annotate(at_byte=_Position(Value(spelling.encode()), F("body")))
        found.filter(at_byte__gt=0).update(body=b"", headers={})


holds_people(
    Call,
    erasing="body and headers emptied",
    merging="stays",
    exporting="no: the submission it made is",
    retention="the newest 50 of a source; emptied with the submission",
    erase=_erase_calls,
)
