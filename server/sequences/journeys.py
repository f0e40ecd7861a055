"""What runs look at on their way, from rows."""

from collections.abc import Iterable

from core.conditions import Group, leaves
from core.deciding import ChangeSubscription
from core.sequences import ActStep, Journey, SequenceDocument
from server.mail.deciding import gap_of, times_of
from server.people.models import Subscriber
from server.workspaces.among import among
from server.workspaces.causes import Cause
from server.workspaces.models import Workspace

from .facts import catalogue_of
from .models import Run, Sequence


def with_their_rows(runs: Iterable[Run]) -> list[Run]:
    """Runs with their sequence, workspace, person and cause, one row of each for all that have the same;
    those whose person is still there.

    Where the people are locked they are read anew by it, as they are by now.
    """
    found = list(runs)
    sequences = Sequence.everywhere.in_bulk({run.sequence_id for run in found})
    workspaces = Workspace.objects.in_bulk({run.workspace_id for run in found})
    causes = Cause.everywhere.in_bulk({run.cause_id for run in found})
    wanted = among("pk", {run.subscriber_id for run in found})
    people = {one.pk: one for one in Subscriber.everywhere.filter(wanted)}
    for one in people.values():
        one.workspace = workspaces[one.workspace_id]
    kept = [run for run in found if run.subscriber_id in people]
    for run in kept:
        run.sequence, run.workspace = sequences[run.sequence_id], workspaces[run.workspace_id]
        run.subscriber, run.cause = people[run.subscriber_id], causes[run.cause_id]
    return kept


def base_journey(workspace: Workspace) -> Journey:
    """What all runs of a workspace look at."""
    return Journey(
        catalogue=catalogue_of(workspace), times=times_of(workspace), gap=gap_of(workspace)
    )


def journey_of(run: Run, base: Journey) -> Journey:
    """What a run looks at; its sequence and its cause have been loaded."""
    return Journey(
        catalogue=base.catalogue,
        times=base.times,
        gap=base.gap,
        sequence_id=str(run.sequence_id),
        name=run.sequence.name,
        run_id=str(run.pk),
        subscriber_id=str(run.subscriber_id),
        entered_at=run.entered_at,
        door=run.door,
        act=run.act,
        answers=tuple((name, text) for name, text in run.answers),
        source=str(run.cause.content.get("source_id") or ""),
    )


def looks_back(document: SequenceDocument) -> bool:
    """Whether something in it looks at what happened before, so that it has to be loaded."""
    if any(goal.event for goal in document.goals):
        return True
    return any(needs_past(condition) for condition in document.conditions())


def changes_lists(document: SequenceDocument) -> bool:
    """Whether one of its steps subscribes or unsubscribes people."""
    return any(
        isinstance(step, ActStep) and isinstance(step.action, ChangeSubscription)
        for step in document.steps
    )


def needs_past(condition: Group) -> bool:
    """Whether a condition looks at what happened before."""
    return any(leaf.kind == "happened" for leaf in leaves(condition))
