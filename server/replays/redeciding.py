"""People and their submissions put before the rules of a replay: by a look, a run and a rehearsal."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from uuid import UUID

from core.deciding import RouteDocument, needs_history, submitted_address
from core.history import Allowed, Chosen, Replayed, Trail, replay
from core.people import Catalogue, Person
from server.people.at_hand import prefetch_relations
from server.people.models import Subscriber
from server.people.suppression import suppressed_among
from server.sequences.people import persons_by_id
from server.sources.actions import route_of_revision
from server.sources.catalogue import full_catalogue
from server.sources.models import Source
from server.submissions.models import FileImport, Submission
from server.submissions.receiving import submission_facts
from server.workspaces.among import among
from server.workspaces.models import Workspace

from .trails import trails_of


@dataclass(frozen=True)
class Group:
    """The submissions of one person, known (`person`) or to be made (`address`)."""

    submissions: tuple[str, ...]
    person: UUID | None = None
    address: str = ""


class Redeciding:
    """A sheet of a source, to decide again by what came in before."""

    def __init__(self, source: Source, route: RouteDocument, number: int | None) -> None:
        self.source = source
        self.workspace: Workspace = source.workspace
        self.route = route
        self.number = number
        self._consents: dict[UUID, str] = {}

    @cached_property
    def catalogue(self) -> Catalogue:
        """What exists in the workspace."""
        return full_catalogue(self.workspace)

    def address_of(self, submission: Submission) -> str:
        """The address that the sheet reads from a submission; empty where it reads none."""
        facts = submission_facts(submission, self.source, self.number)
        found = submitted_address(self.route, facts.everything, self.catalogue)
        return found if isinstance(found, str) else ""

    def decide(
        self, groups: Sequence[Group], allowed: frozenset[Allowed], by: str
    ) -> list[Replayed]:
        """What the sheet would do differently about each group, in few statements for all."""
        submissions = self._submissions(groups)
        others = self._others(groups)
        people = [one.person for one in groups if one.person]
        sheets = {id(one.decided_by): one.decided_by for more in others.values() for one in more}
        history = any(needs_history(one) for one in (self.route, *sheets.values()) if one)
        persons = persons_by_id(self.workspace, people, history=history)
        trails = trails_of(self.workspace, persons)
        strangers = [one.address for one in groups if one.person is None]
        suppressed = suppressed_among(self.workspace, strangers) if strangers else set()
        found = []
        for group in groups:
            person: Person | None = persons.get(group.person) if group.person else None
            trail = trails.get(group.person, Trail()) if group.person else Trail()
            chosen = [
                self._chosen(submissions[pk], group.address in suppressed)
                for pk in group.submissions
                if pk in submissions
            ]
            if not chosen or (group.person and person is None):
                found.append(Replayed())
                continue
            found.append(
                replay(
                    person,
                    trail,
                    chosen,
                    self.route,
                    self.catalogue,
                    allowed=allowed,
                    by=by,
                    others=others.get(group.person, ()) if group.person else (),
                )
            )
        return found

    def _others(self, groups: Sequence[Group]) -> dict[UUID, list[Chosen]]:
        """What else came in of these people, by whichever way, as it was decided then."""
        chosen = [pk for one in groups for pk in one.submissions]
        people = [one.person for one in groups if one.person]
        rows = (
            Submission.objects.of(self.workspace)
            .filter(among("subscriber", people), state="routed", forgotten_at=None)
            .exclude(revision=None)
            .exclude(among("pk", chosen))
            .select_related("source")
            .defer("raw", "decision", "signs")
        )
        found: dict[UUID, list[Chosen]] = {}
        for row in rows:
            if row.subscriber_id:
                found.setdefault(row.subscriber_id, []).append(self._as_decided(row))
        return found

    def _as_decided(self, row: Submission) -> Chosen:
        return Chosen(
            facts=submission_facts(row, row.source, None, self._consent_of(row)),
            at=row.routed_at or row.received_at,
            shown=_shown(row),
            decided_by=route_of_revision(str(row.revision_id)),
        )

    def _chosen(self, submission: Submission, suppressed: bool) -> Chosen:
        stated = self._consent_of(submission)
        facts = submission_facts(submission, self.source, self.number, stated)
        return Chosen(
            facts=replace(facts, suppressed=True) if suppressed else facts,
            at=submission.routed_at or submission.received_at,
            shown=_shown(submission),
        )

    def _submissions(self, groups: Sequence[Group]) -> dict[str, Submission]:
        wanted = [pk for one in groups for pk in one.submissions]
        rows = Submission.objects.of(self.workspace).filter(among("pk", wanted), forgotten_at=None)
        return {str(one.pk): one for one in rows.defer("raw", "decision", "signs")}

    def _consent_of(self, submission: Submission) -> str | None:
        """What the people of its file agreed to, where it came by a file."""
        file = submission.file_import_id
        if file is not None and file not in self._consents:
            rows = FileImport.objects.of(self.workspace).filter(pk=file)
            self._consents[file] = rows.values_list("consent", flat=True).get()
        return self._consents[file] if file is not None else None


def _shown(submission: Submission) -> RouteDocument | None:
    """The sheet that its form was shown by."""
    shown = submission.shown_id or submission.revision_id
    return route_of_revision(str(shown)) if shown else None


def loaded(workspace: Workspace, people: Iterable[UUID]) -> list[Subscriber]:
    """Subscribers with their tags and memberships, as the rules need them."""
    rows = list(Subscriber.objects.of(workspace).filter(pk__in=list(people)))
    for row in rows:
        row.workspace = workspace
    prefetch_relations(rows)
    return rows
