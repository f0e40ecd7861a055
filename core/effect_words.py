"""Effects in a few words, as previews, tables and histories show them."""

from .decision import (
    AddTag,
    AskToConfirm,
    ChangeAddress,
    Effect,
    EnterSequence,
    Erase,
    Event,
    LeaveAllLists,
    LeaveSequence,
    Owner,
    RemoveTag,
    Score,
    Send,
    SetField,
    SetZone,
    Subscribe,
    Task,
    TellMembers,
)

NOBODY = "none"


def in_words(effect: Effect) -> str:
    """One effect: "+ planets", "Interest: Moon → Planets", "starts First telescope"."""
    match effect:
        case SetField(label=label, shown_before=before, shown=shown):
            return f"{label}: {before or 'empty'} → {shown or 'empty'}"
        case AddTag(name=name):
            return f"+ {name}"
        case RemoveTag(name=name):
            return f"− {name}"
        case Subscribe(name=name, before=before, to=to):
            return f"{name}: {_state(before)} → {_state(to)}"
        case LeaveAllLists():
            return "leaves every list"
        case SetZone(after=zone):
            return f"time zone: {zone}"
        case AskToConfirm(name=name):
            return f"asks to confirm {name}"
        case Score(before=before_score, after=after):
            return f"score {before_score} → {after}"
        case Event(name=name):
            return f"event: {name}"
        case EnterSequence(name=name):
            return f"starts {name}"
        case LeaveSequence(name=name):
            return f"ends {name}"
        case TellMembers(names=names):
            return f"tells {', '.join(names)}"
        case Send(name=name):
            return f"sends “{name}”"
        case Task(title=title):
            return f"task: {title}"
        case Owner(name=name):
            return f"{name} looks after them"
        case ChangeAddress(after=address, asks=asks):
            return f"{'asks about the address' if asks else 'address'}: {address}"
        case Erase(asks=asks):
            return "asks whether to be erased" if asks else "erased"


def _state(state: str) -> str:
    return "not on it" if state == NOBODY else state


def kind_of_change(effect: Effect) -> str:
    """Whether an effect adds something, changes it or takes it away: "adds", "changes", "removes"."""
    match effect:
        case RemoveTag() | LeaveSequence() | LeaveAllLists() | Erase():
            return "removes"
        case SetField(before=before, after=after):
            if after in ("", ()):
                return "removes"
            return "adds" if before in (None, "", ()) else "changes"
        case Subscribe(before=before_state, to=to):
            if to in (NOBODY, "unsubscribed"):
                return "removes"
            return "adds" if before_state == NOBODY else "changes"
        case Score() | ChangeAddress():
            return "changes"
        case _:
            return "adds"
