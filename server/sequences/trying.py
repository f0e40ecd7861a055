"""A test on a person: a member gets every email that the rehearsal shows, in their own inbox, at once."""

from zoneinfo import ZoneInfo

from core.documents import Problem
from core.people import Person
from core.sequences import Rehearsal
from server.mail.models import Message
from server.mail.senders import sender_of
from server.mail.trial import MOST, Trial, send_trials
from server.people.models import MailingList
from server.workspaces.history import changes
from server.workspaces.models import Member

from .facts import sender_of_document
from .models import Sequence, shown_document


@changes("tried the sequence “{sequence.name}” on a person")
def try_on(
    sequence: Sequence, rehearsal: Rehearsal, person: Person, to: str, member: Member | None
) -> tuple[int, list[Problem]]:
    """Send the emails of a rehearsal to `to`, marked as a test with the date each would have gone; how
    many, and what could not be made. Nobody else gets anything, and nothing counts."""
    rows = Message.objects.of(sequence.workspace)
    messages = {str(one.pk): one for one in rows}
    zone = ZoneInfo(person.time_zone)
    trials = [
        Trial(
            message=messages[one.message],
            when=f"{one.at.astimezone(zone):%a %-d %b %Y, %H:%M}",
            moment=one.at,
        )
        for one in rehearsal.entries
        if one.kind == "sends" and one.message in messages
    ]
    document = shown_document(sequence)
    to_list = MailingList.objects.of(sequence.workspace).filter(pk=document.list).first()
    sender = sender_of(sequence.workspace, to_list, sender_of_document(document))
    problems = send_trials(sequence.workspace, trials, person, to, sender)
    unmade = [one for one in problems if one.code != "hole"]
    return min(len(trials), MOST) - len(unmade), problems
