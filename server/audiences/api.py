"""Whom a condition fits, how many they are, and what it says."""

from ninja import Router, Schema

from core.conditions import Group, say
from server.people.api import PeopleFilter, PeoplePage, page_of_people
from server.sources.catalogue import full_catalogue
from server.workspaces import clock
from server.workspaces.auth import InPath, MemberRequest, member, member_reads
from server.workspaces.deadlines import only_reads
from server.workspaces.expensive import expensive_read

from .query import audience_query

router = Router(tags=["audiences"], auth=member)


class ConditionIn(Schema):
    condition: Group


class PeopleWhoIn(ConditionIn):
    """Besides the condition: words of the address or name, and the mark of a later page."""

    search: str = ""
    after: str | None = None


class CountOut(Schema):
    sentence: str
    people: int


@router.post("/conditions/count", response=CountOut, auth=member_reads)
def count(request: MemberRequest, workspace: InPath, body: ConditionIn) -> CountOut:
    catalogue = full_catalogue(request.workspace)
    now = clock.now(request.workspace)
    only_reads(request)
    with expensive_read(request.workspace):
        people = audience_query(body.condition, request.workspace, catalogue, now).count()
    return CountOut(sentence=say(body.condition, catalogue), people=people)


@router.post("/conditions/people", response=PeoplePage, auth=member_reads)
def people_who_fit(request: MemberRequest, workspace: InPath, body: PeopleWhoIn) -> PeoplePage:
    """Everybody whom a condition fits, the newest first."""
    catalogue = full_catalogue(request.workspace)
    rows = audience_query(
        body.condition, request.workspace, catalogue, clock.now(request.workspace)
    )
    only_reads(request)
    with expensive_read(request.workspace):
        return page_of_people(rows, PeopleFilter(search=body.search, after=body.after))
