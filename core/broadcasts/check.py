"""Pre-flight of a broadcast: what keeps it from going out, and what needs a look."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from ..conditions import AnswerTest, Group, SourceTest, TagTest, leaves
from ..deciding import check_condition
from ..delivering import at_wall
from ..documents import Finding
from ..people import Catalogue
from .document import BroadcastDocument


@dataclass(frozen=True)
class Around:
    """What pre-flight of a broadcast knows beside its document."""

    catalogue: Catalogue
    message_findings: Mapping[str, tuple[Finding, ...]]
    """What is wrong with each message, by its id."""
    sender: str
    postal_address: str
    now: datetime
    zone: str
    """The workspace's."""
    counts_clicks: Mapping[str, bool]
    counts_opens: Mapping[str, bool]
    """Whether it is counted in each message, by its id."""
    subjects: Mapping[str, str]
    """The subject of each message, by its id."""
    earlier_subjects: frozenset[str] = frozenset()
    """Of the broadcast that it is sent again of."""
    again_already: bool = False
    """Whether that one was sent again before."""
    ready_tag: str = ""
    """A tag that people get a day after their first delivery, by its id; empty: there is none."""


def check_broadcast(document: BroadcastDocument, around: Around) -> tuple[Finding, ...]:
    """Everything that pre-flight finds, from the top of the sheet down."""
    return (
        *_to(document, around),
        *_versions(document, around),
        *_trial(document, around),
        *_when(document, around),
        *_sender(around),
    )


def _to(document: BroadcastDocument, around: Around) -> Iterator[Finding]:
    to, catalogue = document.to, around.catalogue
    if to.list not in catalogue.lists:
        yield Finding(
            code="no_list",
            place="to",
            sentence="It belongs to no list yet, so nobody may be sent it.",
            fix="Choose the list in To.",
        )
    for one in (*to.audiences, *to.less_audiences):
        if one not in catalogue.audiences:
            yield Finding(
                code="audience_gone",
                place="to",
                sentence="An audience in To does not exist any more.",
                fix="Take it out, or choose another.",
            )
    for place, group in document.conditions():
        if any(leaves(group)):
            yield from _condition(group, "to" if place != "goal" else "message", catalogue)
    ready = around.ready_tag
    if ready in catalogue.tags and not _asks_for(to.only, ready):
        yield Finding(
            code="not_ready",
            place="to",
            sentence=f"Who is new gets the tag {catalogue.tags[ready]} once their first emails are through; "
            "this broadcast goes to everybody, and can arrive before what they asked for.",
            fix=f"Ask for the tag {catalogue.tags[ready]} in To.",
            stops=False,
        )
    if to.again_of and around.again_already:
        yield Finding(
            code="again_twice",
            place="to",
            sentence="That broadcast was sent again before; who does not open twice has answered.",
            fix="Delete this one.",
        )


def _asks_for(group: Group, tag: str) -> bool:
    return any(isinstance(one, TagTest) and one.tag == tag for one in leaves(group))


def _condition(group: Group, place: str, catalogue: Catalogue) -> Iterator[Finding]:
    def of_a_submission(_: str, where: str) -> Iterator[Finding]:
        yield Finding(
            code="of_a_submission",
            place=where,
            sentence="This compares an answer of one submission; a broadcast is about people.",
            fix="Use the field that this answer is saved to.",
        )

    yield from check_condition(group, place, "broadcast", catalogue, of_a_submission)
    if any(isinstance(leaf, SourceTest | AnswerTest) for leaf in leaves(group)):
        yield Finding(
            code="of_a_submission",
            place=place,
            sentence="This compares the source of one submission; a broadcast is about people.",
            fix="Choose “something that happened”, then “submitted”.",
        )


def _versions(document: BroadcastDocument, around: Around) -> Iterator[Finding]:
    seen: set[tuple[str | None, str]] = set()
    for one in document.versions:
        if one.message is None:
            yield Finding(
                code="no_message",
                place="message",
                sentence="No message is chosen yet.",
                fix="Choose one, or write it, in Message.",
            )
            continue
        if one.message not in around.catalogue.messages:
            yield Finding(
                code="message_gone",
                place="message",
                sentence="A message of this broadcast does not exist any more.",
                fix="Choose another.",
            )
            continue
        yield from (
            found.model_copy(update={"place": "message"})
            for found in around.message_findings.get(one.message, ())
        )
        subject = one.subject or around.subjects.get(one.message, "")
        if (one.message, subject) in seen:
            yield Finding(
                code="same_version",
                place="message",
                sentence="Two versions have the same message and the same subject: there is nothing to try.",
                fix="Give one of them another subject, or take it out.",
            )
        seen.add((one.message, subject))
        if subject in around.earlier_subjects:
            yield Finding(
                code="same_subject",
                place="message",
                sentence=f"“{subject}” was the subject when it was sent first, and these people did not open it.",
                fix="Give it another subject.",
            )


def _trial(document: BroadcastDocument, around: Around) -> Iterator[Finding]:
    if not document.is_tried:
        return
    trial = document.trial
    used = [one.message for one in document.versions if one.message]
    counted = {"clicked": around.counts_clicks, "opened": around.counts_opens}.get(trial.by)
    if counted is not None and not all(counted.get(one) for one in used):
        what = "clicks" if trial.by == "clicked" else "opens"
        yield Finding(
            code="not_counted",
            place="message",
            sentence=f"The trial is decided by {what}, and a message of it does not count them.",
            fix=f"Have {what} counted in the message, or decide by something else.",
        )
    if trial.by == "goal" and (trial.goal is None or not any(leaves(trial.goal))):
        yield Finding(
            code="no_goal",
            place="message",
            sentence="The trial is decided by a goal, and none is set.",
            fix="Say what holds for somebody who reached it.",
        )


def _when(document: BroadcastDocument, around: Around) -> Iterator[Finding]:
    when = document.when
    if when.kind == "at_once":
        return
    if when.at is None:
        yield Finding(
            code="no_time",
            place="when",
            sentence="No time is chosen yet.",
            fix="Choose the day and the time in When.",
        )
        return
    moment = at_wall(when.at, ZoneInfo("Etc/GMT+12" if when.kind == "local" else around.zone))
    if moment <= around.now:
        yield Finding(
            code="past",
            place="when",
            sentence="That time has passed already.",
            fix="Choose a later one.",
        )


def _sender(around: Around) -> Iterator[Finding]:
    if not around.sender:
        yield Finding(
            code="no_sender",
            sentence="The workspace has no address to send from.",
            fix="Set the sender in the settings of the workspace.",
        )
    if not around.postal_address.strip():
        yield Finding(
            code="no_postal_address",
            sentence="The workspace has no postal address, which has to stand in every marketing email.",
            fix="Set it in the settings of the workspace.",
        )
