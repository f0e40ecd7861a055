"""Which fixed texts a source and a list can word for themselves.

`usual` is the English text, by which the catalogues of the languages know it.
"""

import re
from typing import Literal

from ..documents import value

About = Literal["form", "list"]
_NAMED = re.compile(r"%\((\w+)\)s")


@value
class Text:
    """One text: the key its own words are kept by, where it is read, and the usual words."""

    key: str
    group: str
    usual: str

    @property
    def tokens(self) -> tuple[str, ...]:
        """What is filled in, such as the name of the list."""
        return tuple(_NAMED.findall(self.usual))


def texts_of(about: About) -> tuple[Text, ...]:
    """The texts of a source's form, or of a list."""
    return FORM_TEXTS if about == "form" else LIST_TEXTS


def _group(group: str, **usual: str) -> tuple[Text, ...]:
    return tuple(Text(key=key, group=group, usual=one) for key, one in usual.items())


FORM_TEXTS = (
    *_group(
        "Beside the questions",
        optional="optional",
        choose="Please choose",
        first_name="First name",
        last_name="Last name",
        street="Street",
        city="City",
        region="Region",
        postal_code="Postal code",
        country="Country",
    ),
    *_group(
        "When an answer is missing or wrong",
        to_correct="Not sent yet. Please check:",
        no_address="Please enter your email address.",
        not_an_email="Please enter a full email address, such as name@example.org.",
        email_too_long="This email address is too long.",
        missing="Please answer this question.",
        missing_named="Please fill in “%(question)s”.",
        missing_choice="Please choose one of the options.",
        missing_choices="Please choose at least one option.",
        missing_tick="Please tick this box to continue.",
        yes_or_no="Please choose yes or no.",
        phone_country="Please begin the number with + and the country code.",
        phone_incomplete="This phone number is not complete. Please check it.",
        no_country="Please choose a country.",
        date_format="Please enter a date such as 2026-05-03.",
        no_such_day="There is no such date. Please check it.",
        not_a_number="Please enter a number.",
        not_a_page="Please enter a web address, such as https://example.org.",
        too_long="This text is too long.",
        check="Please check this answer.",
    ),
    *_group(
        "After sending",
        confirm_first="New here? Please check your inbox: our email has a link to confirm that it was you.",
        received="Thank you. We have received what you sent.",
        next_person="Next person",
        opens_again="An empty form opens by itself in a moment.",
    ),
    *_group(
        "When it cannot be sent",
        not_sent="Not sent",
        not_sent_now="Not sent. Please try again in a moment.",
        go_back="Please go back, correct it, and send it again.",
        still_there="What you typed is still there.",
        too_many="Too many people are sending this form right now.",
        too_much="This is more than a form can take.",
        no_files="This form does not take files.",
        damaged="The form arrived damaged.",
        not_working="This form does not work right now. Please try again later.",
    ),
)

LIST_TEXTS = (
    *_group(
        "Footer of every email",
        why="You are receiving this email because you signed up for %(list)s.",
        why_asked="You are receiving this email because this address was entered for %(list)s.",
        not_you="If it was not you, do nothing, and you will not hear from us again.",
        unsubscribe="Unsubscribe",
        own_page="Your emails and your data",
        in_browser="Read it in a browser",
    ),
    *_group(
        "Page that asks to confirm",
        confirm_title="Confirm: %(list)s",
        confirm_button="Yes, subscribe me",
        confirm_not_you="If you did not ask for this, close this page, and you will not hear from us again.",
    ),
    *_group(
        "Page after confirming",
        confirmed="You are subscribed",
        confirmed_text="You will get %(list)s from now on. Every email has a link to unsubscribe.",
        not_confirmed="This could not be confirmed",
        link_too_old="The link is older than 14 days. Please sign up again to get a new one.",
        left_since="You have unsubscribed since. Please sign up again if you want the emails.",
    ),
    *_group(
        "Page to unsubscribe",
        emails_from="Emails from %(name)s",
        your_address="Your address:",
        unsubscribe_list="Unsubscribe from %(list)s",
        also_get="You also get:",
        unsubscribe_all="Unsubscribe from everything",
        not_subscribed="You are not subscribed to %(list)s.",
        you_get="You get:",
        nothing_left="You are not subscribed to anything here, and get no more emails.",
        rather_fewer="Would you rather get fewer emails, or change your address? We can email you a link to your own page.",
        email_link="Email me the link",
        check_inbox="Check your inbox",
        link_on_its_way="A link to your page is on its way to the address that this email went to.",
    ),
    *_group(
        "Page after unsubscribing",
        left="You are unsubscribed",
        left_list="No more emails of %(list)s will go to %(address)s.",
        left_all="%(name)s will not send anything else to %(address)s.",
        close="You can close this page.",
    ),
)
