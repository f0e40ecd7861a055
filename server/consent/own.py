"""What a person does on their own page, and by the links that confirm what they asked for."""

from dataclasses import dataclass, replace

from django.db import transaction
from django.utils.translation import gettext as _

from core.documents import Because
from core.people import membership as consent
from core.values import address_key
from server.mail.confirming import Asking, ask_to_confirm
from server.mail.own_requests import ask, tell_old_address
from server.people.locks import locked_person, retried
from server.people.memberships import opt_in, unsubscribe
from server.people.models import Fact, MailingList, Membership, OwnRequest, Subscriber
from server.people.suppression import suppressed_among
from server.people.trail import fact, store_facts
from server.profiles.addresses import carry_out_request, known_address
from server.profiles.erasing import erase
from server.sequences.entering import leave_sequences_of_lists
from server.workspaces import clock
from server.workspaces.errors import Refused

Kind = OwnRequest.Kind
GAPS = (0, 1, 3, 7, 14, 30)
"""The numbers of days that a person can choose: at most one marketing email in so many."""
OWN_PAGE = Because(kind="person", sentence="they said so on their own page")


@dataclass(frozen=True)
class OwnList:
    """A list as its member sees it."""

    pk: str
    name: str
    about: str
    state: str


def lists_of(person: Subscriber) -> list[OwnList]:
    """The lists that the person is or was on, by name."""
    rows = person.memberships.exclude(state="none").select_related("list")
    return [
        OwnList(str(one.list_id), one.list.shown_name, one.list.description, one.state)
        for one in rows.order_by("list__folded")
    ]


@retried
def leave(person: Subscriber, lists: list[str] | None, ip: str = "") -> None:
    """Leave lists (None: all), with the sequences that belong to them."""
    _locked(person)
    rows = MailingList.objects.of(person.workspace)
    wanted = None if lists is None else rows.filter(pk__in=lists)
    left = unsubscribe(person, wanted, OWN_PAGE, "their own page", ip)
    leave_sequences_of_lists(person.workspace, [(person, one) for one in left])


def _locked(person: Subscriber) -> None:
    if locked_person(lambda: person.pk) is None:
        raise Refused(
            _("Something went wrong. Please open this page again from your latest email.")
        )


@retried
def come_back(person: Subscriber, list_id: str, ip: str = "") -> bool:
    """Subscribe again to a list they left: an opt-in of their own. Whether they confirm first."""
    with transaction.atomic():
        _locked(person)
        row = (
            Membership.everywhere.select_related("list", "subscriber")
            .filter(subscriber=person, list=list_id)
            .first()
        )
        if row is None:
            raise Refused(_("You were never subscribed to this."))
        suppressed = bool(suppressed_among(person.workspace, [person.address]))
        confirm = row.list.confirms or suppressed or row.state == "complained"
        move = consent.subscribe(
            row.state,  # type: ignore[arg-type]
            own_opt_in=True,
            confirm_first=confirm,
            suppressed=suppressed,
        )
        if move.to != row.state:
            opt_in(
                row,
                move.to,
                replace(OWN_PAGE, own=True),
                _("Subscribe again to %(list)s") % {"list": row.list.shown_name},
                "their own page",
                ip,
            )
        if move.to == "pending":
            asking = Asking(person, list_id, replace(OWN_PAGE, own=True))
            ask_to_confirm(person.workspace, [asking], clock.now(person.workspace))
        return move.to == "pending"


@retried
def set_gap(person: Subscriber, days: int) -> None:
    """Get at most one marketing email in so many days; 0 takes the limit away."""
    if days not in GAPS:
        raise Refused(_("Please choose one of the options."))
    if person.gap_days == days:
        return
    with transaction.atomic():
        _locked(person)
        person.gap_days = days
        person.save(update_fields=["gap_days"])
        now = clock.now(person.workspace)
        store_facts([fact(person, Fact.Kind.FEWER, {"days": days}, OWN_PAGE, now)])


@retried
def set_counting(person: Subscriber, counted: bool) -> None:
    """Count what they open and click, or no longer, also by emails that went out before."""
    if person.uncounted is not counted:
        return
    with transaction.atomic():
        _locked(person)
        person.uncounted = not counted
        person.save(update_fields=["uncounted"])
        now = clock.now(person.workspace)
        store_facts([fact(person, Fact.Kind.UNCOUNTED, {"counted": counted}, OWN_PAGE, now)])


def ask_for_address(person: Subscriber, text: str) -> str:
    """Ask at the new address whether it is theirs; the address."""
    try:
        new = known_address(text)
    except Refused as error:
        sentence = _("Please enter a full email address, such as name@example.org.")
        raise Refused(sentence) from error
    if address_key(new) == address_key(person.address):
        raise Refused(_("Your emails already go to this address."))
    because = Because(kind="person", sentence="they changed their address on their own page")
    ask(person, Kind.ADDRESS, because, to=new, new_address=new)
    return new


def ask_for(person: Subscriber, kind: OwnRequest.Kind) -> None:
    """Send the link for their data, for being erased, or for a fresh page, to their inbox."""
    ask(person, kind, OWN_PAGE)


def confirm_request(row: OwnRequest) -> str:
    """Do what the person asked for; what was done: "erased", "asked" or "changed"."""
    if row.kind == Kind.ERASE:
        erase(row.subscriber)
        return "erased"
    if address_key(row.to) != address_key(row.new_address):
        # The old address agrees; whether the new one is theirs, it says itself.
        with transaction.atomic():
            row.done_at = clock.now(row.workspace)
            row.save(update_fields=["done_at"])
            because = Because.from_json(row.because)
            ask(
                row.subscriber,
                Kind.ADDRESS,
                because,
                to=row.new_address,
                new_address=row.new_address,
            )
        return "asked"
    old = row.subscriber.address
    person = carry_out_request(row)
    if address_key(person.address) != address_key(old):
        tell_old_address(person, old)
    return "changed"
