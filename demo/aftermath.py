"""What Noor did after the visitors had come: a mistake set right, two people who were one, and
the words that the public reads."""

from core.deciding import AddTags, RouteDocument, Rule
from core.documents import Because
from core.profiles import ListPage, ListPages
from server.consent.own import set_gap
from server.people.labels import set_public
from server.people.models import Subscriber
from server.profiles.merges import merge_people
from server.replays.replays import begin_replay, run_replay, work_on
from server.routes.actions import turn_on
from server.routing.routing import route_submission
from server.sources.actions import save_route_draft, shown_revision
from server.sources.models import Source
from server.sources.open_forms import forget, open_form
from server.submissions.models import Submission
from server.submissions.receiving import Arrival, receive

from .guides import NEWS
from .house import House

_TWICE = (
    (("email", "oona.marsh@example.com"), ("name", "Oona Marsh")),
    (("email", "o.marsh@example.org"), ("name", "Oona Marsh-Tamm")),
)


def set_right(house: House) -> None:
    """All of it, by the member who acts."""
    _public_words(house)
    _right_tag(house)
    _one_and_the_same(house)
    rare = Subscriber.objects.of(house.workspace).filter(memberships__state="subscribed")
    for person in rare.order_by("pk")[5:8]:
        person.workspace = house.workspace
        set_gap(person, 7)


def _public_words(house: House) -> None:
    pages = ListPages(
        confirmed=ListPage(
            heading="See you under the dome",
            text="The next open night comes to your inbox.\n\nBring something warm.",
        ),
        left=ListPage(heading="Clear skies all the same"),
    )
    about = "When the dome is open, about twice a month"
    set_public(house.list(NEWS), "Nights under the dome", about, "", pages, {})


def _right_tag(house: House) -> None:
    """The calendar's sheet gave the tag of another; the second revision does not, and what came
    in by the first is replayed."""
    source = Source.objects.of(house.workspace).get(key="night-sky-calendar")
    document = RouteDocument.model_validate(shown_revision(source).document)
    right = Rule(id="t1", action=AddTags(tags=(house.tag("guide: calendar"),)))
    then = (right, *document.then[1:])
    document = document.model_copy(update={"then": then})
    save_route_draft(source, document, None, house.member)
    turn_on(source, house.member, "The calendar's own tag")
    replay = begin_replay(source, {}, ("removals",), house.member)
    work_on(str(replay.pk))
    run_replay(replay)
    work_on(str(replay.pk))


def _one_and_the_same(house: House) -> None:
    """Somebody who came in by two addresses, and says so."""
    people = []
    source = Source.objects.of(house.workspace).get(key="star-photos-sheet")
    for number, answers in enumerate(_TWICE):
        forget(source)
        form = open_form(source.key)
        assert form is not None
        first, _, last = answers[1][1].partition(" ")
        named = (answers[0], ("name.first", first), ("name.last", last), ("news", "on"))
        arrival = Arrival(form.revision_id, named, f"demo-twice-{number}:0")
        submission = receive(form, arrival)
        assert submission is not None
        route_submission(str(submission))
        people.append(Submission.everywhere.get(pk=submission).subscriber)
    kept, gone = people
    assert kept is not None and gone is not None
    kept.workspace = gone.workspace = house.workspace
    because = Because(kind="member", sentence="merged by Noor Halvard")
    merge_people(kept, gone, frozenset(), because)
