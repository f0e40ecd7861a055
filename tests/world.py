"""A small workspace for tests: a list, a message, a sequence and a form that is turned on."""

import hashlib
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.test import override_settings

from core.deciding import (
    AddTags,
    ConsentLine,
    RouteDocument,
    Rule,
    StartSequence,
    TagByAnswer,
    TagRow,
    VisitorSees,
)
from core.delivering import Duration
from core.documents import Because
from core.messages import simple_message
from core.people import Person
from core.reading import Form, Question, ReadLine
from core.sequences import Lane, SendStep, SequenceDocument, WaitStep
from core.values import Choice
from launch.postgres import free_port
from outside.mailbox import Mailbox
from outside.smtp import mail_server
from server.mail.editing import make_message, save_message
from server.mail.models import Message, Send
from server.people.actions import furnish, make_list, make_tag
from server.people.models import Field, MailingList, Subscriber
from server.routes.actions import turn_on
from server.routing.routing import route_submission
from server.sequences import actions as sequences
from server.sequences.models import Sequence
from server.sequences.people import full_people
from server.sources.actions import make_source, save_route_draft, shown_revision
from server.sources.models import Source
from server.sources.open_forms import forget, open_form
from server.submissions.models import Submission
from server.submissions.receiving import Arrival, receive
from server.workspaces.actions import make_workspace, set_up
from server.workspaces.models import Member, User, Workspace

PASSWORD = "a password for tests"
BACKEND = "django.contrib.auth.backends.ModelBackend"
LOOKS = (Choice(key="moon", label="Moon"), Choice(key="planets", label="Planets"))


WHY = Because(kind="person", sentence="they said so")
"""Where it does not matter why."""


@dataclass
class World:
    """What a test stands on."""

    user: User
    workspace: Workspace
    member: Member
    news: MailingList
    guide: Message
    fits: Message
    sequence: Sequence
    source: Source

    def submit(self, address: str, **answers: str) -> Submission:
        """A submission of the form, stored but not routed."""
        pairs = (("email", address), *answers.items())
        forget(self.source)
        form = open_form(self.source.key)
        assert form is not None
        rendering = hashlib.sha256(f"{address} {answers}".encode()).hexdigest()
        arrival = Arrival(form.revision_id, pairs, rendering, {"page": "/f"})
        made = receive(form, arrival)
        assert made is not None
        return Submission.everywhere.get(pk=made)

    def arrive(self, address: str, **answers: str) -> Subscriber:
        """A submission, routed; the subscriber."""
        submission = self.submit(address, **answers)
        route_submission(str(submission.pk))
        submission.refresh_from_db()
        assert submission.subscriber is not None
        return submission.subscriber

    def change_route(self, **bands: Any) -> RouteDocument:
        """Turn on the route with other bands."""
        document = RouteDocument.model_validate(shown_revision(self.source).document)
        document = document.model_copy(update=bands)
        save_route_draft(self.source, document, None, self.member)
        turn_on(self.source, self.member, "changed")
        return document

    def tags_of(self, person: Subscriber) -> set[str]:
        """The names of somebody's tags."""
        return set(person.tags.values_list("name", flat=True))

    def sends(self, **wanted: Any) -> list[Send]:
        """The sends, the oldest first."""
        return list(Send.objects.of(self.workspace).filter(**wanted).order_by("queued_at", "pk"))


def full_person(subscriber: Subscriber) -> Person:
    """A subscriber with all that a condition can look at."""
    return full_people(subscriber.workspace, [subscriber])[subscriber.pk]


def make_user(address: str = "noor@larkmoor.example") -> User:
    """Somebody who can sign in with PASSWORD."""
    return User.objects.create_user(address, PASSWORD)


def make_empty_workspace(name: str, user: User) -> Workspace:
    """A workspace with a sender, and nothing else."""
    workspace = make_workspace(name, user, "Europe/London")
    furnish(workspace)
    return set_up(
        workspace,
        name=name,
        time_zone="Europe/London",
        sender_name=name,
        sender_address="hello@larkmoor.example",
        postal_address="1 Dome Road",
        keeps_ip=True,
    )


def make_world(name: str = "Larkmoor", address: str = "noor@larkmoor.example") -> World:
    """A workspace whose form is turned on."""
    user = make_user(address)
    workspace = make_empty_workspace(name, user)
    member = workspace.members.get()
    news = make_list(workspace, "Open-night news")
    guide = _message(
        workspace,
        "Your guide",
        "<p>Hello {{ first_name | default: 'there' }}, <a href='https://www.larkmoor.example/guide'>your guide</a></p>",
    )
    fits = _message(workspace, "Which one fits", "<p>Hello {{ first_name }}</p>")
    sequence = sequences.make_sequence(workspace, "First telescope", member)
    steps = (
        SendStep(id="s1", message=str(guide.pk), at_once=True),
        WaitStep(id="w1", duration=Duration(amount=1, unit="days")),
        SendStep(id="s2", message=str(fits.pk)),
    )
    document = SequenceDocument(list=str(news.pk), lanes=(Lane(id="a", steps=steps),))
    sequences.save_sequence_draft(sequence, document, 1, member)
    sequences.turn_on(sequence, member)
    source = make_source(workspace, "Telescope guide", member)
    save_route_draft(source, route_document(workspace, news, sequence), 1, member)
    turn_on(source, member, "first")
    return World(user, workspace, member, news, guide, fits, sequence, source)


def route_document(workspace: Workspace, news: MailingList, sequence: Sequence) -> RouteDocument:
    """A whole route."""
    fields = {one.key: str(one.pk) for one in Field.objects.of(workspace)}
    tags = {name: str(make_tag(workspace, name).pk) for name in ("guide", "moon", "planets")}
    return RouteDocument(
        form=Form(
            title="Get the guide",
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(id="q2", name="first_name", type="name", label="First name"),
                Question(
                    id="q3", name="look", type="choice", label="What do you look at?", choices=LOOKS
                ),
                Question(id="q4", name="utm_source", type="hidden", parameter="utm_source"),
            ),
        ),
        read_as=(
            ReadLine(id="r1", question="email", field=fields["email"]),
            ReadLine(
                id="r2",
                question="first_name",
                field=fields["first_name"],
                part="first",
                case_right=True,
            ),
        ),
        consent=(ConsentLine(id="c1", list=str(news.pk), wording="You also get the news."),),
        then=(
            Rule(id="t1", action=AddTags(tags=(tags["guide"],))),
            Rule(
                id="t2",
                action=TagByAnswer(
                    question="look",
                    table=tuple(TagRow(choice=one.key, tags=(tags[one.key],)) for one in LOOKS),
                ),
            ),
            Rule(id="t3", action=StartSequence(sequence=str(sequence.pk), lane="a")),
        ),
        visitor_sees=VisitorSees(heading="Thank you", text="It is on its way."),
    )


def _message(workspace: Workspace, name: str, body: str) -> Message:
    row = make_message(workspace, name)
    text = simple_message(f"{name} {{{{ first_name | default: '' }}}}", body=body)
    save_message(row, text, None, None)
    return row


class RealMail:
    """A mixin for test cases: mail goes over SMTP to the server of the outside world."""

    mailbox: Mailbox
    smtp_port: int

    @classmethod
    def setUpClass(cls) -> None:
        # First, so that settings of the class are given back after these.
        super().setUpClass()  # type: ignore[misc]
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)  # type: ignore[attr-defined]
        cls.mailbox = Mailbox(Path(folder.name) / "mail")
        cls.smtp_port = free_port()
        server = mail_server(cls.mailbox, cls.smtp_port)
        server.start()
        cls.addClassCleanup(server.stop)  # type: ignore[attr-defined]
        mail = override_settings(
            EMAIL_BACKEND="server.mail.backend.EmailBackend", EMAIL_PORT=cls.smtp_port
        )
        mail.enable()
        cls.addClassCleanup(mail.disable)  # type: ignore[attr-defined]

    def setUp(self) -> None:
        super().setUp()  # type: ignore[misc]
        self.mailbox.empty()
