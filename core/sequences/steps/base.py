"""What every step of a sequence is: a document that knows its check, its words and what it does."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ...conditions import Group
from ...deciding import Unknown
from ...delivering import Settled
from ...documents import Finding, Frozen, Use
from ...people import Catalogue
from ..journey import Walk
from ..ways import ON, Way


@dataclass(frozen=True)
class StepCheck:
    """What pre-flight knows beside the step itself."""

    catalogue: Catalogue
    message_findings: Mapping[str, tuple[Finding, ...]]
    """What is wrong with each message, by its id."""
    before: tuple["LaneStep", ...]
    """The steps of its lane that stand before it."""
    is_last: bool
    """Whether nothing follows it, not even time in which a goal may be reached."""
    is_entrance: bool
    """Whether people come straight into its lane, and not only from another one."""
    unknown: Unknown
    """Findings for names of questions that nothing comes by."""


class Heading(Frozen):
    """A step in a few words: what it does, as a title, and with what; both again as one sentence."""

    verb: str
    rest: str
    sentence: str


def heading_of(sentence: str) -> Heading:
    """The parts of a sentence that begins with its verb."""
    verb, _, rest = sentence.partition(" ")
    return Heading(verb=verb.removesuffix(":").capitalize(), rest=rest, sentence=sentence)


@dataclass(frozen=True)
class Branch:
    """One of the ways out of a step, by its id; `name` as the sheet and the counts show it."""

    id: str
    name: str
    way: Way = ON


class LaneStep(Frozen):
    """The base of all steps. Adding one: a module here, and its name in `__init__.py`."""

    id: str

    def promised(self, walk: Walk) -> bool:
        """Whether the person asked for it just now, so that nothing makes them leave before it."""
        return False

    def needs_list(self, walk: Walk) -> bool:
        """Whether only subscribers of the sequence's list come to it; others leave before it."""
        return False

    @property
    def takes_time(self) -> bool:
        """Whether time passes at it, so that a circle may lead through it."""
        return False

    def due(self, walk: Walk) -> Settled:
        """When a run that comes to it at the walk's moment goes on."""
        return Settled(at=walk.moment)

    def is_over(self, walk: Walk) -> bool:
        """Whether a run that stands at it goes on before it is due."""
        return False

    def seen_anew(self, walk: Walk) -> Settled | None:
        """When a run that stands at it goes on, seen from the walk's moment; None: as it was."""
        return None

    def go(self, walk: Walk) -> str:
        """What happens as the run goes on from it; the id of the branch that it takes."""
        return ""

    def branches(self) -> tuple[Branch, ...]:
        """The ways out of it where there are several; none: on, downwards."""
        return ()

    def conditions(self) -> Iterator[Group]:
        """The conditions that it looks at."""
        yield from ()

    def check(self, at: StepCheck) -> Iterator[Finding]:
        """What is missing, gone or odd, each with its fix."""
        yield from ()

    def describe(self, catalogue: Catalogue, lanes: Mapping[str, str]) -> str:
        """The step in words, for differences of revisions; `lanes`: names of the lanes by id."""
        raise NotImplementedError

    def heading(self, catalogue: Catalogue) -> Heading:
        """The step in a few words, as the sheet shows it. Descriptions begin with their verb."""
        return heading_of(self.describe(catalogue, {}))

    def uses(self) -> Iterator[Use]:
        """What of the workspace it names, and what it does with it."""
        yield from ()

    def nothing_follows(self, at: StepCheck) -> Iterator[Finding]:
        """A wait at the end of a lane that nothing comes after."""
        if at.is_last:
            yield Finding(
                code="wait_at_end",
                place=self.id,
                sentence="The lane ends with a wait that nothing follows.",
                fix="Remove it, or add what comes after.",
                stops=False,
            )

    def unfinished(self, sentence: str, fix: str) -> Finding:
        """Something has to be said before the step can do anything."""
        return Finding(code="line_unfinished", place=self.id, sentence=sentence, fix=fix)
