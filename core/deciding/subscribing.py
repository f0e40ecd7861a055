"""Subscribing and unsubscribing while a submission is decided, as far as consent allows it."""

from ..documents import Problem
from ..people import membership
from .decision import AskToConfirm, LeaveAllLists, Subscribe
from .rule_context import RuleContext


def subscribe(
    context: RuleContext,
    line: str,
    list_id: str,
    why: str,
    *,
    wording: str,
    own: bool,
    band: str,
    confirm: bool = False,
) -> None:
    """Subscribe to a list, as far as consent allows it.

    `own`: by an opt-in of the person's own; `confirm`: the line wants it confirmed by email.
    """
    name = context.catalogue.lists.get(list_id)
    if name is None:
        return context.outcome(line, "the list is gone", acts=False)
    if list_id in context.left_lists or context.left_all:
        context.problem(line, _contradiction(name))
        return context.outcome(
            line, f"another rule unsubscribes from {name}, and that wins", acts=False
        )
    before = context.memberships.get(list_id, "none")
    confirm_first = confirm or list_id in context.catalogue.confirmed_lists
    move = membership.subscribe(
        before,
        own_opt_in=own,
        confirm_first=confirm_first,
        suppressed=context.suppressed,
        asked_at=context.received,
        left=context.left(list_id),
    )
    if move.refused:
        return context.outcome(line, f"stays {before}: {move.refused}", acts=False)
    because = context.because(band, line, why)
    if move.to == "pending":
        context.effects.append(AskToConfirm(list=list_id, name=name, because=because))
    if move.to == before:
        if move.to == "pending":
            return context.outcome(line, f"is pending on {name}; asked again to confirm", acts=True)
        return context.outcome(line, f"is subscribed to {name} already", acts=False)
    context.memberships[list_id] = move.to
    change = Subscribe(
        list=list_id, name=name, before=before, to=move.to, wording=wording, because=because
    )
    context.effects.append(change)
    asked = f"pending on {name}: asked by email to confirm"
    context.outcome(line, asked if move.to == "pending" else f"subscribed to {name}", acts=True)


def unsubscribe(context: RuleContext, line: str, list_id: str | None, why: str) -> None:
    """Unsubscribe from a list, or from all; of somebody who is not on it this is nothing."""
    lists = [list_id] if list_id else [*context.memberships]
    if list_id is None:
        context.left_all = True
        context.effects.append(LeaveAllLists(because=context.because("then", line, why)))
    parts: list[str] = []
    for one in lists:
        name = context.catalogue.lists.get(one)
        if name is None:
            continue
        context.left_lists.add(one)
        subscribed = [
            effect
            for effect in context.effects
            if isinstance(effect, Subscribe | AskToConfirm)
            and effect.list == one
            and not (isinstance(effect, Subscribe) and effect.to == "unsubscribed")
        ]
        if subscribed:
            # Earlier in this very submission: the safer of the two wins.
            context.effects = [effect for effect in context.effects if effect not in subscribed]
            for effect in subscribed:
                if isinstance(effect, Subscribe):
                    context.memberships[one] = effect.before
            context.problem(line, _contradiction(name))
        before = context.memberships.get(one, "none")
        to = membership.unsubscribe(before).to if before != "none" else before
        if to == before:
            continue
        context.memberships[one] = to
        context.effects.append(
            Subscribe(
                list=one,
                name=name,
                before=before,
                to=to,
                wording="",
                because=context.because("then", line, why),
            )
        )
        parts.append(f"unsubscribed from {name}")
    context.outcome(line, " · ".join(parts) or "is on no such list", acts=bool(parts))


def _contradiction(name: str) -> Problem:
    return Problem(
        code="contradiction",
        sentence=f"One rule subscribes to {name} and another unsubscribes from it; unsubscribing wins.",
        fix="Give the two rules conditions that do not hold together.",
    )
