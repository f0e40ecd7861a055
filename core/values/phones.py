"""Phone numbers, kept in the form of ITU-T E.164 (`+351…`)."""

import phonenumbers

from ..documents import Problem


def read_phone(text: str, country: str = "") -> str | Problem:
    """The number with its country's code; `country` (alpha-2) is used where `text` has none."""
    written = text.strip()
    if written.startswith("00") and not country:
        written = f"+{written[2:]}"
    try:
        number = phonenumbers.parse(written, country or None)
    except phonenumbers.NumberParseException as error:
        if error.error_type == phonenumbers.NumberParseException.INVALID_COUNTRY_CODE:
            return Problem(
                code="phone_without_country",
                sentence="This number does not say which country it is of.",
                fix="Begin it with + and the country's code, or set a country for the line.",
            )
        return _not_a_number()
    if not phonenumbers.is_valid_number(number):
        return _not_a_number()
    return phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164)


def _not_a_number() -> Problem:
    return Problem(
        code="not_a_phone",
        sentence="This is not a phone number.",
        fix="Check its digits, and the country's code if it begins with +.",
    )
