"""Everything that is known about a person, as one document: for them, and as proof of consent."""

from collections.abc import Iterable
from uuid import UUID

from core.history import Broken
from server.workspaces import clock
from server.workspaces.shapes import Json

from .chain import broken_chains
from .facts import field_facts, values_of
from .models import Evidence, Field, Membership, Subscriber


def record_of(subscriber: Subscriber) -> Json:
    """The person, their fields, tags, lists with all evidence, and the trail; JSON as it stands."""
    workspace = subscriber.workspace
    values = values_of(subscriber)
    fields = [field_facts(one) for one in Field.objects.of(workspace).order_by("pk")]
    broken = dict(broken_chains(workspace, [one.pk for one in subscriber.memberships.all()]))
    memberships = subscriber.memberships.select_related("list").prefetch_related("evidence")
    return {
        "made": clock.now(workspace).isoformat(),
        "by": workspace.name,
        "address": subscriber.address,
        "since": subscriber.added_at.isoformat(),
        "time_zone": subscriber.time_zone or workspace.time_zone,
        "score": subscriber.score,
        "at_most_one_email_in_days": subscriber.gap_days or None,
        "fields": {
            one.label: one.shown(values[one.key])
            for one in fields
            if one.key in values and one.type != "email" and values[one.key] not in ("", ())
        },
        "tags": [
            {
                "name": one.tag.name,
                "since": one.at.isoformat(),
                "because": one.sentence,
            }
            for one in subscriber.taggings.select_related("tag").order_by("at")
        ],
        "lists": [
            {
                "name": one.list.name,
                "about": one.list.description,
                "state": one.state,
                "since": one.changed_at.isoformat(),
                "evidence": [_proof(proof) for proof in _in_order(one.evidence.all())],
                "evidence_holds": _holds(one, broken),
            }
            for one in memberships.order_by("list__folded")
        ],
        "trail": [
            {
                "at": one.at.isoformat(),
                "kind": one.kind,
                "what": one.what,
                "because": one.sentence,
                "source": one.because["source_name"],
            }
            for one in subscriber.facts.select_related("cause").order_by("at", "pk")
        ],
    }


def _holds(membership: Membership, broken: dict[UUID, Broken]) -> str:
    """Whether nobody has changed the evidence of a membership, in words."""
    chains = {proof.chain for proof in membership.evidence.all()} | {membership.pk}
    for chain in chains & broken.keys():
        found = broken[chain]
        what = {"changed": "was changed", "missing": "is missing", "unlinked": "was put in"}
        return f"no: entry {found.number} of chain {chain} {what[found.why]}"
    return "yes"


def _in_order(evidence: Iterable[Evidence]) -> list[Evidence]:
    return sorted(evidence, key=lambda one: (one.at, one.number))


def _proof(one: Evidence) -> Json:
    return {
        "at": one.at.isoformat(),
        "from": one.before,
        "to": one.after,
        "wording": one.wording,
        "page": one.page,
        "ip": one.ip,
        "chain": str(one.chain),
        "number": one.number,
        "hash": one.hash,
        "previous": one.previous,
        "because": one.because.get("sentence", ""),
        "source": one.because.get("source_name"),
        "revision": one.because.get("revision"),
    }
