"""A broadcast in sentences, as its sheet, its history and its pre-flight say it."""

from collections.abc import Iterable, Mapping
from datetime import datetime

from ..conditions import leaves, say
from ..people import Catalogue
from .document import BroadcastDocument, To, Trial, TrialRule, Version, When
from .recipients import Why

_RULES: Mapping[TrialRule, str] = {
    "clicked": "by clicks",
    "opened": "by opens (an estimate)",
    "goal": "by who reaches the goal",
    "fewest_left": "by the fewest who unsubscribe",
    "member": "as a member chooses",
}
REASONS: Mapping[Why, str] = {
    "got_it": "Already got it",
    "left": "Unsubscribed",
    "bounced": "Bounced",
    "complained": "Complained",
    "unconfirmed": "Has not confirmed yet",
    "not_on_list": "Not on the list",
    "suppressed": "On the suppression list",
    "not_meant": "Does not fit",
    "less": "Left out by you",
    "busy": "In a sequence that allows no broadcasts",
    "recent": "Got another email recently",
    "no_zone": "Time zone not known",
    "hole": "Something the letter needs is empty",
    "would_wait": "Would have had to wait",
    "no_time": "No time fits",
}
"""What a group of people who are left out is called."""


def to_in_words(to: To, catalogue: Catalogue, earlier: str = "") -> str:
    """Everybody on Open-night news who has the tag moon, except anyone in Recent customers. `earlier`: the name of the
    broadcast that it is sent again of."""
    of_list = catalogue.lists.get(to.list or "", "a list (not chosen yet)")
    names = [catalogue.audiences.get(one, "an audience that is gone") for one in to.audiences]
    who = f"Everybody in {_or(names)} who is on {of_list}" if names else f"Everybody on {of_list}"
    if any(leaves(to.only)):
        who += f" {'and' if names else 'who'} {say(to.only, catalogue)}"
    if to.again_of:
        who += f", who got “{earlier or 'an earlier broadcast'}” and neither opened nor clicked"
    without = [
        f"anyone in {catalogue.audiences.get(one, 'an audience that is gone')}"
        for one in to.less_audiences
    ]
    if any(leaves(to.less)):
        without.append(f"anyone who {say(to.less, catalogue)}")
    if to.less_recent_days:
        days = "day" if to.less_recent_days == 1 else f"{to.less_recent_days} days"
        without.append(f"anyone emailed in the last {days}")
    return f"{who}, except {_or(without)}" if without else who


def when_in_words(when: When) -> str:
    """Thu 3 Dec 2026 at 18:00, each person's local time; at most 600 an hour"""
    parts = [_moment(when)]
    if when.per_hour:
        parts.append(f"at most {when.per_hour:,} an hour")
    if when.per_domain:
        parts.append(f"at most {when.per_domain:,} an hour to one domain")
    if when.outside == "leave_out":
        parts.append("people who would have to wait are left out")
    if when.kind == "local" and when.without_zone == "leave_out":
        parts.append("people without a known time zone are left out")
    if when.delay_minutes:
        parts.append(f"can be called back for {_minutes(when.delay_minutes)}")
    return " · ".join(parts)


def _moment(when: When) -> str:
    if when.kind == "at_once":
        return "At once"
    if when.at is None:
        return "At a time that is not chosen yet"
    shown = clock_in_words(when.at)
    return f"{shown}, each person's local time" if when.kind == "local" else shown


def clock_in_words(at: datetime) -> str:
    """Thu 3 Dec 2026 at 18:00"""
    return f"{at:%a} {at.day} {at:%b %Y} at {at:%H:%M}"


def _minutes(minutes: int) -> str:
    if minutes % 60:
        return "1 minute" if minutes == 1 else f"{minutes} minutes"
    return "an hour" if minutes == 60 else f"{minutes // 60} hours"


def version_in_words(one: Version, catalogue: Catalogue) -> str:
    """Three clear Fridays, as “Clear nights ahead”"""
    name = catalogue.messages.get(one.message or "", "a message (not chosen yet)")
    return f"{name}, as “{one.subject}”" if one.subject else name


def trial_in_words(document: BroadcastDocument) -> str:
    """Trial: 2 versions to 20% of them, the better by clicks after 4 hours goes to the rest"""
    trial = document.trial
    found = f"{len(document.versions)} versions go to {trial.share}% of them first"
    if trial.by == "member":
        return f"{found}; the rest get the one that a member chooses"
    return f"{found}; after {hours_in_words(trial)} the better one, {_RULES[trial.by]}, goes to the rest"


def hours_in_words(trial: Trial) -> str:
    """4 hours"""
    return "an hour" if trial.hours == 1 else f"{trial.hours} hours"


def _or(names: Iterable[str]) -> str:
    listed = list(names)
    return " or ".join(filter(None, [", ".join(listed[:-1]), listed[-1]])) if listed else ""
