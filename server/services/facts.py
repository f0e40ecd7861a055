"""Connections as the rules see them."""

from datetime import UTC, datetime
from uuid import UUID

from core.services import FarField, ServiceDescription, ServiceFacts, Thing
from server.workspaces.models import Workspace
from server.workspaces.shapes import Json

from .models import Service


def service_facts(row: Service) -> ServiceFacts:
    """A connection, for the core."""
    described = ServiceDescription.model_validate(row.description)
    return ServiceFacts(
        id=str(row.pk),
        name=row.name,
        description=described,
        fields=fields_of_service(row, described),
        things=things_of(row),
        list_id=str(row.list_id) if row.list_id else None,
    )


def fields_of_service(row: Service, described: ServiceDescription) -> tuple[FarField, ...]:
    """Those that are always there, and those that were read."""
    read = tuple(FarField.model_validate(one) for one in row.fields)
    fixed = {one.key for one in described.fixed_fields}
    return (*described.fixed_fields, *(one for one in read if one.key not in fixed))


def things_of(row: Service) -> dict[str, tuple[Thing, ...]]:
    """What there is to choose, by kind."""
    return {
        kind: tuple(Thing.model_validate(one) for one in many) for kind, many in row.things.items()
    }


def services_of(workspace_id: UUID) -> dict[str, ServiceFacts]:
    """The connections of a workspace, by id."""
    rows = Service.objects.of(Workspace(pk=workspace_id)).order_by("folded")
    return {str(one.pk): service_facts(one) for one in rows}


def known(**more: object) -> Json:
    """What the tokens of a request can name."""
    now = datetime.now(UTC).isoformat(timespec="seconds")
    common = {"person": {}, "pairs": [], "chosen": {}, "options": {}, "test": False, "now": now}
    return {**common, **more}
