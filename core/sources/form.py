"""A form of our own: on its page, as a pop-up, in a part for other websites, on a shared screen."""

import re
from collections import Counter
from collections.abc import Iterator

from ..deciding import RouteDocument
from ..documents import LEAST_FOR_TEXT, Finding, contrast
from .base import SourceRules

# Names that begin with an underscore are the form's own, and _charset_ is the standard's
# (WHATWG HTML, form submission).
_NAME = re.compile(r"[^\W_][\w. -]*")


class OwnedForm(SourceRules):
    """A form of our own."""

    kind = "form"
    own = True
    asks = True
    shows_page = True

    def unknown(self, name: str, place: str, names: tuple[str, ...]) -> Iterator[Finding]:
        """The form says what comes, so nothing else does."""
        yield Finding(
            code="question_gone",
            place=place,
            sentence=f"The form has no question named “{name}”.",
            fix="Choose a question of the form, or remove the line.",
        )

    def check(self, route: RouteDocument) -> Iterator[Finding]:
        """Its questions and its looks."""
        questions = route.form.questions
        yield from _check_style(route)
        if not questions:
            yield Finding(
                code="no_questions",
                place="arrives",
                sentence="The form asks nothing.",
                fix="Add a question of the type Email.",
            )
        counted = Counter(question.name for question in questions)
        for question in questions:
            if not question.name.strip():
                yield Finding(
                    code="question_unnamed",
                    place=question.id,
                    sentence=f"The question “{question.label}” has no name of its input.",
                    fix="Give it a short name, such as first_name.",
                )
            elif not _NAME.fullmatch(question.name):
                yield Finding(
                    code="question_name",
                    place=question.id,
                    sentence=f"“{question.name}” cannot be the name of an input.",
                    fix="Begin with a letter; use letters, digits, hyphens, underscores and dots.",
                )
            elif counted[question.name] > 1:
                counted[question.name] = 0
                yield Finding(
                    code="question_twice",
                    place=question.id,
                    sentence=f"Two questions have the name “{question.name}”.",
                    fix="Give one of them another name.",
                )
            if question.type == "consent" and question.required:
                yield Finding(
                    code="consent_required",
                    place=question.id,
                    sentence=f"Nobody can send the form without ticking “{question.label}”: consent that "
                    "is a condition of something else is not freely given (GDPR, article 7 (4)).",
                    fix="Make it optional.",
                    stops=False,
                )
            if question.type in ("choice", "choices") and len(question.choices) < 2:
                yield Finding(
                    code="choices_missing",
                    place=question.id,
                    sentence=f"“{question.label}” offers fewer than two choices.",
                    fix="Add what a visitor can choose from.",
                )
            if question.type != "hidden" and not question.label.strip():
                yield Finding(
                    code="question_without_label",
                    place=question.id,
                    sentence=f"The question “{question.name}” has no label, so nobody sees what it asks.",
                    fix="Write the question.",
                )


def _check_style(route: RouteDocument) -> Iterator[Finding]:
    style = route.form.style
    if style is None:
        return
    for one, other, what in (
        (style.ink, style.paper, "The text"),
        (style.accent, style.paper, "The edge of the button"),
    ):
        ratio = contrast(one, other)
        # 1.4.3 for text, 1.4.11 for what is not text (WCAG 2.2).
        least = LEAST_FOR_TEXT if what == "The text" else 3.0
        if ratio < least:
            yield Finding(
                code="contrast",
                place="style",
                sentence=f"{what} is hard to see on the paper: contrast {ratio:.1f}, "
                f"at least {least:g} is needed.",
                fix="Make one of the two colours darker or lighter.",
            )
