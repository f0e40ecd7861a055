"""Larkmoor Observatory: the First telescope guide, and the people who asked for it."""

import random
from datetime import datetime, timedelta

from django.utils import timezone

from core.forms import Form, Question
from core.personal import MessageText
from core.reading import ReadLine
from core.routes import (
    AddTags,
    ConsentLine,
    Passing,
    RouteDocument,
    Rule,
    StartSequence,
    TagByAnswer,
    TagRow,
    VisitorSees,
)
from core.sequences.document import Lane, SendStep, SequenceDocument, WaitStep
from core.timing import Duration
from core.values import Choice
from server.consent.actions import leave
from server.intake import actions as intake
from server.intake.models import Source
from server.intake.open_forms import forget, open_form
from server.intake.routing import route_submission
from server.mail.actions import deliver_queued, make_message, save_message
from server.mail.models import Message, Send
from server.people.actions import furnish, make_field, make_list, make_tag
from server.people.models import Field, MailingList, Subscriber
from server.sequences import actions as sequences
from server.sequences.models import Sequence
from server.workspaces import clock
from server.workspaces.actions import make_workspace, set_up
from server.workspaces.models import Member, User, Workspace

from .people import Visit, visits

DAYS = 100
PEOPLE = 290
_MOMENT = timedelta(seconds=1)
INTERESTS = (
    Choice(key="moon", label="Moon"),
    Choice(key="planets", label="Planets"),
    Choice(key="deep-sky", label="Deep sky", synonyms=("galaxies", "nebulae")),
    Choice(key="aurora", label="Aurora"),
)


def make_observatory(address: str, password: str, outside: str, chance: random.Random) -> str:
    """Make everything, and say what was made."""
    user = User.objects.create_user(address, password, name="Noor Halvard")
    workspace = make_workspace("Larkmoor Observatory", user, "Europe/London", slug="larkmoor")
    set_up(
        workspace,
        name=workspace.name,
        time_zone="Europe/London",
        sender_name="Larkmoor Observatory",
        sender_address="hello@larkmoor.example",
        postal_address="1 Dome Road, Larkmoor",
        keeps_ip=False,
    )
    furnish(workspace)
    member = workspace.members.get()
    now = timezone.now()
    clock.set_time(workspace, now - timedelta(days=DAYS + 1))
    news = make_list(workspace, "Open-night news", "When the dome is open, about twice a month")
    make_field(workspace, "Interest", "choice", INTERESTS)
    sequence = _first_telescope(workspace, member, news, outside)
    source = _guide_form(workspace, member, news, sequence, outside)
    _live_through(workspace, source, visits(now, PEOPLE, DAYS, chance), now, chance)
    clock.reset(workspace)
    people = Subscriber.objects.of(workspace).count()
    sends = Send.objects.of(workspace).filter(state="sent").count()
    return f"{people} people came through {source.name}, {sends} emails went out"


def _message(
    workspace: Workspace, member: Member, name: str, subject: str, preheader: str, body: str
) -> Message:
    row = make_message(workspace, name, member)
    return save_message(
        row, name, MessageText(subject=subject, preheader=preheader, body=body), 0, member
    )


def _first_telescope(
    workspace: Workspace, member: Member, news: MailingList, outside: str
) -> Sequence:
    guide = _message(
        workspace,
        member,
        "Your guide",
        "Your first telescope: the guide",
        "Twelve pages, and one thing to do tonight",
        '<p>Hello {{ first_name | default: "there" }},</p><p>here is the guide you asked for: '
        f'<a href="{outside}/larkmoor/first-telescope-guide/">Your first telescope</a>.</p>'
        "<p>Tonight, before you buy anything: find the Moon, and look along its shadow line with "
        "whatever glass you have.</p><p>Clear skies,<br>Noor at Larkmoor</p>",
    )
    fits = _message(
        workspace,
        member,
        "Which one fits",
        "Which telescope fits you{% if first_name %}, {{ first_name }}{% endif %}?",
        "Three questions that settle it",
        '<p>Hello {{ first_name | default: "there" }},</p><p>three questions settle it: where do you '
        "stand, how far do you carry it, and what do you want to see"
        "{% if interest %} – you said: {{ interest }}{% endif %}?</p>"
        "<p>Write back with your answers, and we tell you what we would buy.</p><p>Noor</p>",
    )
    night = _message(
        workspace,
        member,
        "Open night",
        "Look through ours on Friday",
        "The dome opens at dusk",
        "<p>Hello {{ first_name }},</p><p>on Friday the dome is open. Try three telescopes in "
        "one evening, and ask us anything.</p><p>Noor</p>",
    )
    sequence = sequences.make_sequence(workspace, "First telescope", member)
    document = SequenceDocument(
        list=str(news.pk),
        lanes=(
            Lane(
                id="a",
                name="A",
                steps=(
                    SendStep(id="s1", message=str(guide.pk), at_once=True),
                    WaitStep(id="w1", duration=Duration(amount=1, unit="days")),
                    SendStep(id="s2", message=str(fits.pk)),
                    WaitStep(id="w2", duration=Duration(amount=2, unit="days")),
                    SendStep(id="s3", message=str(night.pk)),
                ),
            ),
        ),
    )
    sequences.save_sequence_draft(sequence, document, 1, member)
    sequences.turn_on(sequence, member, "Guide, which one fits, open night")
    return sequence


def _guide_form(
    workspace: Workspace, member: Member, news: MailingList, sequence: Sequence, outside: str
) -> Source:
    tags = {
        name: str(make_tag(workspace, name).pk)
        for name in (
            "guide: telescope",
            "looks at moon",
            "looks at planets",
            "looks at deep sky",
            "looks at aurora",
        )
    }
    email, first, interest = (
        Field.objects.of(workspace).get(key=key) for key in ("email", "first_name", "interest")
    )
    source = intake.make_source(
        workspace, "First telescope guide", member, key="first-telescope-guide"
    )
    document = RouteDocument(
        form=Form(
            title="Get the guide",
            intro="Twelve pages for before you buy. It comes by email, at once.",
            button="Send me the guide",
            questions=(
                Question(id="q1", name="email", type="email", label="Email", required=True),
                Question(id="q2", name="first_name", type="name", label="First name"),
                Question(
                    id="q3",
                    name="look",
                    type="choice",
                    label="What do you look at?",
                    choices=INTERESTS,
                ),
                Question(id="q4", name="utm_source", type="hidden", parameter="utm_source"),
            ),
        ),
        read_as=(
            ReadLine(id="r1", question="email", field=str(email.pk)),
            ReadLine(
                id="r2", question="first_name", field=str(first.pk), part="first", case_right=True
            ),
            ReadLine(id="r3", question="look", field=str(interest.pk)),
        ),
        consent=(
            ConsentLine(
                id="c1",
                list=str(news.pk),
                wording="With the guide you get Open-night news, about twice a month. "
                "Every email has a link to leave.",
            ),
        ),
        then=(
            Rule(id="t1", action=AddTags(tags=(tags["guide: telescope"],))),
            Rule(
                id="t2",
                action=TagByAnswer(
                    question="look",
                    table=tuple(
                        TagRow(choice=one.key, tags=(tags[f"looks at {one.label.lower()}"],))
                        for one in INTERESTS
                    ),
                ),
            ),
            Rule(id="t3", action=StartSequence(sequence=str(sequence.pk), lane="a")),
        ),
        visitor_sees=VisitorSees(
            kind="page",
            address=f"{outside}/larkmoor/thanks/",
            passing=(Passing(question="first_name", parameter="name"),),
        ),
    )
    intake.save_route_draft(source, document, 1, member)
    intake.turn_on(source, member, "First edition")
    return source


def _live_through(
    workspace: Workspace, source: Source, coming: list[Visit], now: datetime, chance: random.Random
) -> None:
    """Let the visitors come one by one, and time go by between them."""
    for number, visit in enumerate(coming):
        sequences.move_time(workspace, max(visit.at, clock.now(workspace) + _MOMENT))
        address = "no-such-person@example.net" if number == len(coming) - 40 else visit.address
        answers = [("email", address), ("first_name", visit.first_name)]
        answers += [("look", visit.look)] if visit.look else []
        answers.append(("utm_source", visit.utm_source))
        context = {"page": f"/f/{source.key}", "from": "the website"}
        forget(source)
        form = open_form(source.key)
        assert form is not None
        name = f"demo-{number}"
        arrival = intake.Arrival(form.revision_id, tuple(answers), name, context)
        submission = intake.receive(form, arrival)
        assert submission is not None
        route_submission(str(submission.pk))
        deliver_queued(workspace)
        if chance.random() < 0.06:
            _somebody_leaves(workspace, chance)
    sequences.move_time(workspace, max(now, clock.now(workspace) + _MOMENT))


def _somebody_leaves(workspace: Workspace, chance: random.Random) -> None:
    sent = list(
        Send.objects.of(workspace)
        .select_related("workspace", "subscriber__workspace", "list")
        .filter(state="sent")
        .order_by("-sent_at")[:40]
    )
    if sent:
        send = chance.choice(sent)
        send.workspace = workspace
        send.subscriber.workspace = workspace
        leave(send, everything=False, one_click=chance.random() < 0.5)
