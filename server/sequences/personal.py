"""What this room holds of people: their runs."""

from server.workspaces.personal import holds_nobody, holds_people

from .models import Forecast, ForecastPerson, Run, Sequence, SequenceRevision, Signal, Visit

holds_people(
    Run,
    erasing="goes with the person, its answers too",
    merging="moves; of two in one sequence the one that is further stays (core/profiles/merging.py)",
    exporting="in the trail: entered, left",
    retention="as long as the person; its answers go once it has ended and the workspace's retention time is over",
)
holds_people(
    Visit,
    erasing="goes with its run",
    merging="moves with its run",
    exporting="no: figures of a sequence",
    retention="as long as its run",
)
holds_people(
    Signal,
    erasing="goes with the person",
    merging="moves",
    exporting="no: gone within seconds",
    retention="until doors and runs have seen it",
    moves=True,
)
holds_people(
    ForecastPerson,
    erasing="goes with the person",
    merging="goes with the one who goes: it is counted anew",
    exporting="no: a count of what may come",
    retention="until the next look ahead",
)
holds_nobody(Sequence, SequenceRevision, why="documents of members")
holds_nobody(Forecast, why="counts alone")
