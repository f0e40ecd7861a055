"""Pre-flight of a sequence: what keeps it from being turned on, and what needs a look."""

from collections.abc import Iterator, Mapping

from ..documents import Finding
from ..people import Catalogue
from .document import SequenceDocument
from .steps import SendStep, StepCheck


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
        for number, step in enumerate(lane.steps):
            at = StepCheck(
                catalogue=catalogue,
                message_findings=message_findings,
                before=lane.steps[:number],
                is_last=number == len(lane.steps) - 1,
            )
            yield from step.check(at)
