"""Pre-flight of a sequence: what keeps it from being turned on, and what needs a look."""

from collections.abc import Iterator, Mapping

from ..documents import Finding
from ..people import Catalogue
from .document import Lane, SendStep, SequenceDocument


def check_sequence(
    sequence: SequenceDocument,
    catalogue: Catalogue,
    message_findings: Mapping[str, tuple[Finding, ...]],
    sender: str,
    postal_address: str,
) -> tuple[Finding, ...]:
    """Every finding, in the order of the sheet.

    `message_findings`: what is wrong with each message, by its id (`check_message`);
    `sender`, `postal_address`: what stands in every email as its sender, or an empty text.
    """
    return tuple(_findings(sequence, catalogue, message_findings, sender, postal_address))


def _findings(
    sequence: SequenceDocument,
    catalogue: Catalogue,
    message_findings: Mapping[str, tuple[Finding, ...]],
    sender: str,
    postal_address: str,
) -> Iterator[Finding]:
    if not sender:
        yield Finding(
            code="no_sender",
            place="sender",
            sentence="The workspace has no address to send from.",
            fix="Set the sender in the settings of the workspace.",
        )
    if not postal_address.strip():
        # 15 U.S.C. 7704(a)(5)(A)(iii): a valid physical postal address of the sender.
        yield Finding(
            code="no_postal_address",
            place="sender",
            sentence="The workspace has no postal address, which every marketing email has to show.",
            fix="Write it in the settings of the workspace.",
        )
    if sequence.list is None or sequence.list not in catalogue.lists:
        yield Finding(
            code="no_list",
            place="list",
            sentence="It is not said which list these emails belong to.",
            fix="Choose the list: it decides who may get them, and what unsubscribing ends.",
        )
    if not any(isinstance(step, SendStep) for lane in sequence.lanes for step in lane.steps):
        yield Finding(
            code="nothing_sent",
            place="lanes",
            sentence="No email is sent.",
            fix="Add an email.",
        )
    for lane in sequence.lanes:
        yield from _check_lane(lane, catalogue, message_findings)


def _check_lane(
    lane: Lane, catalogue: Catalogue, message_findings: Mapping[str, tuple[Finding, ...]]
) -> Iterator[Finding]:
    sends = 0
    previous = ""
    for step in lane.steps:
        if isinstance(step, SendStep):
            if step.message is None or step.message not in catalogue.messages:
                yield Finding(
                    code="message_gone" if step.message else "line_unfinished",
                    place=step.id,
                    sentence="The message is gone." if step.message else "No message is chosen.",
                    fix="Choose a message, or write one.",
                )
            else:
                for finding in message_findings.get(step.message, ()):
                    yield finding.model_copy(update={"place": step.id})
            if step.at_once and sends:
                yield Finding(
                    code="at_once_later",
                    place=step.id,
                    sentence="Only the first email behind a door was asked for just now.",
                    fix="Take “asked for” off this step.",
                )
            if previous == "send":
                yield Finding(
                    code="two_at_once",
                    place=step.id,
                    sentence="Two emails go out in the same minute.",
                    fix="Put a wait between them.",
                    stops=False,
                )
            sends += 1
        previous = step.kind
    if previous == "wait":
        yield Finding(
            code="wait_at_end",
            place=lane.steps[-1].id,
            sentence="The lane ends with a wait that nothing follows.",
            fix="Remove it, or add what comes after.",
            stops=False,
        )
