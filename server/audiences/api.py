"""How many people a condition fits, and what it says."""

from ninja import Router, Schema

from core.conditions import Group, say
from server.intake.facts import full_catalogue
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, member, member_reads

from .people_who import people_who

router = Router(tags=["audiences"], auth=member)


class ConditionIn(Schema):
    condition: Group


class CountOut(Schema):
    said: str
    people: int


@router.post("/conditions/count", response=CountOut, auth=member_reads)
def count(request: MemberRequest, workspace: InPath, body: ConditionIn) -> CountOut:
    catalogue = full_catalogue(request.workspace)
    now = clock.now(request.workspace)
    people = people_who(body.condition, request.workspace, catalogue, now).count()
    return CountOut(said=say(body.condition, catalogue), people=people)
