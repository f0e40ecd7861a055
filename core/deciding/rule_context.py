"""A person as the rules so far have left them, and the effects so far: a later rule sees both."""

from dataclasses import replace
from datetime import datetime

from ..conditions import Circumstances
from ..documents import Because, Problem
from ..people import Catalogue, Happening, Left, MembershipState, Person
from ..reading import CONTEXT, Form, Question, answer_to
from ..values import Choice, Kept
from .decision import Effect, Outcome, SubmissionFacts


class RuleContext:
    """What deciding one submission has come to."""

    def __init__(
        self,
        submission: SubmissionFacts,
        form: Form,
        shown_form: Form,
        person: Person,
        catalogue: Catalogue,
        now: datetime,
    ) -> None:
        self.submission = submission
        self.form = form
        self.shown_form = shown_form
        """The form as the visitor was shown it."""
        self.catalogue = catalogue
        self.now = now
        self.effects: list[Effect] = []
        self.outcomes: list[Outcome] = []
        self.problems: list[Problem] = []
        self.left_lists: set[str] = set()
        """Lists that this submission unsubscribes from: no later line subscribes again."""
        self.left_all = False
        """Whether it unsubscribes from all lists, those they never joined among them."""
        self.made_tags: dict[str, str] = {}
        """Tags that an answer names and that do not exist yet: their names, by the folded name."""
        self._person = person
        self.suppressed = person.suppressed
        self.own_zone = person.own_zone
        self.values: dict[str, Kept] = dict(person.values)
        self.tags = set(person.tags)
        self.memberships: dict[str, MembershipState] = dict(person.memberships)
        self.entered = set(person.entered)
        self.under_way = set(person.under_way)
        self.score = person.score
        self.owner = person.owner
        came = Happening(what="submitted", about=submission.source_id, at=now)
        self.happened = [*person.happened, came]

    @property
    def person(self) -> Person:
        """The person as they are by now."""
        return replace(
            self._person,
            values=self.values,
            tags=frozenset(self.tags),
            memberships=self.memberships,
            entered=frozenset(self.entered),
            under_way=frozenset(self.under_way),
            score=self.score,
            happened=tuple(self.happened),
            owner=self.owner,
        )

    @property
    def circumstances(self) -> Circumstances:
        """What a condition looks at besides the person."""
        return Circumstances(
            now=self.now,
            zone=self._person.time_zone,
            answers=self.submission.everything,
            source=self.submission.source_id,
        )

    @property
    def act(self) -> str:
        """The act of the person's own that this is; empty for a row of a file or a sheet, a call of a
        program, or a step."""
        if not self.submission.own:
            return ""
        return f"submission/{self.submission.submission_id or 'sample'}"

    @property
    def received(self) -> datetime:
        """When the submission was received."""
        return self.submission.received or self.now

    def left(self, list_id: str) -> Left:
        """When the person last left a list, and all lists."""
        return Left(
            this_list=self._person.left_at.get(list_id), every_list=self._person.left_all_at
        )

    def changed_since(self, what: str, name: str) -> bool:
        """Whether something received later has changed a field or a tag, which then stays."""
        return (what, name) in self.submission.changed_since

    def answer(self, question: str) -> str:
        """The answer to a question, or to the context; empty where there is none."""
        return answer_to(self.submission.everything, question) or ""

    def outcome(self, line: str, text: str, *, acts: bool) -> None:
        """What a line made of the submission, in a few words."""
        self.outcomes.append(Outcome(line=line, text=text, acts=acts))

    def problem(self, line: str, problem: Problem) -> None:
        """Something wrong at a line."""
        self.problems.append(problem.model_copy(update={"place": line}))

    def gone(self, what: str, line: str) -> None:
        """Something that a line uses and that is not there any more."""
        found = Problem(
            code=f"{what}_gone",
            place=line,
            sentence=f"A {what} that this rule uses is gone.",
            fix=f"Choose another {what}, or make it again.",
        )
        self.problems.append(found)

    def question(self, name: str) -> Question | None:
        """The question of the form with this name."""
        return next((one for one in self.form.questions if one.name == name), None)

    def label_shown(self, name: str) -> str:
        """A question's label as the visitor saw it."""
        return self.shown_form.names.get(name) or self.label(name)

    def label(self, name: str) -> str:
        """How people read the name of a question."""
        return CONTEXT.get(name) or self.form.names.get(name, name)

    def choices(self, name: str) -> tuple[Choice, ...]:
        """The choices that the form offers for a question."""
        return self.form.choices.get(name, ())

    def _revision(self, band: str) -> int | None:
        """Consent is evidenced by the revision shown, the rest by the one that decides."""
        shown = self.submission.shown_revision if band == "consent" else None
        return shown or self.submission.revision

    def because(self, band: str, line: str, sentence: str) -> Because:
        """The cause of a fact: this submission, and a line of the route."""
        return Because(
            kind="route",
            sentence=sentence,
            source_id=self.submission.source_id,
            source_name=self.submission.source_name,
            submission_id=self.submission.submission_id,
            revision=self._revision(band),
            band=band,
            line_id=line,
            own=self.submission.own or None,
        )
