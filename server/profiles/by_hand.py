"""A person changed by a member, by hand."""

from django.db import transaction

from core.deciding import Subscribe
from core.documents import Because
from core.profiles import ByHand, change_by_hand
from server.people.effects import apply_effects
from server.people.ledger import Ledger
from server.people.locks import locked_people
from server.people.models import Subscriber
from server.sequences.entering import leave_sequences_of_lists
from server.sequences.people import people_of
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.errors import Refused
from server.workspaces.history import changes


@changes("changed a person by hand")
def change_person(row: Subscriber, change: ByHand, because: Because) -> int:
    """Carry out what a member says, all of it or nothing; how many things that changed."""
    workspace = row.workspace
    with transaction.atomic():
        locked = locked_people(workspace, [(row.address, row.is_test)])
        subscriber = next((one for one in locked.values() if one.pk == row.pk), None)
        if subscriber is None:
            raise Refused("Their address was changed just now. Load the page again.")
        person = people_of([subscriber], workspace, history=False)[row.pk]
        effects, problems = change_by_hand(change, person, full_catalogue(workspace), because)
        if problems:
            raise Refused(problems[0].sentence, problems)
        ledger = Ledger()
        apply_effects(ledger, subscriber, effects, {}, clock.now(workspace))
        ledger.write()
        left = [(subscriber, one.list) for one in effects if isinstance(one, Subscribe)]
        leave_sequences_of_lists(workspace, left)
    return len(effects)
