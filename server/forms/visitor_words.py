"""What a visitor reads of a form besides its own words: labels of boxes, and what to correct."""

from core.documents import Problem
from core.reading import Form, Input, Question
from server.workspaces.languages import translated as _


def label_of(box: Input) -> str:
    """What stands beside a box of a question that has several."""
    words = {
        "first": _("First name"),
        "last": _("Last name"),
        "street": _("Street"),
        "city": _("City"),
        "region": _("Region"),
        "postal_code": _("Postal code"),
        "country": _("Country"),
    }
    return words.get(box.part, box.label)


def for_visitor(problem: Problem, form: Form) -> str:
    """What is wrong and what to do, for somebody who knows nothing of maps and fields."""
    words = {
        "no_address": _("Please enter your email address."),
        "email_not_mapped": _("This form does not work right now. Please try again later."),
        "not_an_email": _("Please enter a full email address, such as name@example.org."),
        "email_too_long": _("This email address is too long."),
        "phone_without_country": _("Please begin the number with + and the country code."),
        "not_a_phone": _("This phone number is not complete. Please check it."),
        "not_a_country": _("Please choose a country."),
        "not_a_date": _("Please enter a date such as 2026-05-03."),
        "ambiguous_date": _("Please enter a date such as 2026-05-03."),
        "short_year": _("Please enter a date such as 2026-05-03."),
        "no_such_day": _("There is no such date. Please check it."),
        "not_a_number": _("Please enter a number."),
        "decimal_mark": _("Please enter a number."),
        "not_a_url": _("Please enter a web address, such as https://example.org."),
        "unknown_choice": _("Please choose one of the options."),
        "not_yes_or_no": _("Please choose yes or no."),
        "text_too_long": _("This text is too long."),
    }
    if problem.code == "address_incomplete":
        part = problem.place.rpartition(".")[2]
        return _fill_in(label_of(Input(name=problem.place, label=part, part=part)))
    if problem.code == "answer_missing":
        return _missing(_question(form, problem.place))
    return words.get(problem.code) or _("Please check this answer.")


def _question(form: Form, name: str) -> Question | None:
    first = name.rpartition(".")[0]
    return next((one for one in form.questions if one.name in (name, first)), None)


def _missing(question: Question | None) -> str:
    match question.type if question else "":
        case "email":
            return _("Please enter your email address.")
        case "choice":
            return _("Please choose one of the options.")
        case "choices":
            return _("Please choose at least one option.")
        case "yes_no" | "consent":
            return _("Please tick this box to continue.")
    return _fill_in(question.label.strip().rstrip("?:*") if question else "")


def _fill_in(label: str) -> str:
    if not label:
        return _("Please answer this question.")
    return _("Please fill in “%(question)s”.") % {"question": label}
