"""People for the benches: a few thousand, and a million that the database itself makes."""

from dataclasses import dataclass
from typing import Any

from django.db import connection
from django.utils import timezone

from server.people.actions import make_field, make_list, make_tag
from server.people.models import Field, MailingList, Subscriber, Tag
from server.sources.catalogue import full_catalogue
from server.workspaces.causes import Cause
from server.workspaces.copying import store_all
from server.workspaces.models import Workspace

PEOPLE = 1_000_000
_CLEAR = (
    "ALTER TABLE people_evidence DISABLE TRIGGER evidence_is_never_truncated;"
    "TRUNCATE people_subscriber CASCADE"
)
_PEOPLE = """
INSERT INTO people_subscriber (id, workspace_id, address, address_key, "values", searched, folded,
                               score, time_zone, gap_days, added_at, uncounted, is_test)
SELECT gen_random_uuid(), %(workspace)s, 'p' || n || '@example.com', 'p' || n || '@example.com',
       jsonb_build_object('first_name', 'Ines ' || n, 'country',
                          (ARRAY['GB','IE','PT','DE','NL','NO','PL','FR'])[1 + n %% 8]),
       'p' || n || '@example.com', jsonb_build_object('email', 'p' || n || '@example.com'),
       n %% 100, '', 0, now() - n * interval '1 minute', false, false
FROM generate_series(1, %(people)s) AS n
"""
_TAGGINGS = """
INSERT INTO people_tagging (id, workspace_id, subscriber_id, tag_id, at, cause_id, sentence)
SELECT gen_random_uuid(), workspace_id, id, %(tag)s, now(), %(cause)s, '' FROM people_subscriber
WHERE score < 30
"""
_MEMBERSHIPS = """
INSERT INTO people_membership (id, workspace_id, subscriber_id, list_id, state, changed_at,
                               cause_id, sentence)
SELECT gen_random_uuid(), workspace_id, id, %(list)s,
       CASE WHEN score %% 5 = 0 THEN 'unsubscribed' ELSE 'subscribed' END, now(), %(cause)s, ''
FROM people_subscriber WHERE score < 80
"""
COUNT = """
SELECT count(*) FROM people_subscriber s
JOIN people_tagging t ON t.subscriber_id = s.id AND t.tag_id = %(tag)s
JOIN people_membership m
  ON m.subscriber_id = s.id AND m.list_id = %(list)s AND m.state = 'subscribed'
WHERE s.workspace_id = %(workspace)s AND NOT s.is_test AND s."values" ->> 'country' = 'PT'
"""
"""The same count, as one would write it by hand."""


@dataclass
class Names:
    """What the crowd is told apart by."""

    country: Field
    tag: Tag
    news: MailingList


def make_crowd(workspace: Workspace, people: int = PEOPLE) -> Names:
    """So many people, a million usually: eight countries, three in ten tagged, four in five on a list."""
    names = Names(
        make_field(workspace, "Country", "country"),
        make_tag(workspace, "looks at planets"),
        make_list(workspace, "Open-night news"),
    )
    cause = Cause.everywhere.create(workspace=workspace, content={"kind": "person"})
    ids: dict[str, Any] = {
        "cause": cause.pk,
        "workspace": workspace.pk,
        "people": people,
        "tag": names.tag.pk,
        "list": names.news.pk,
    }
    with connection.cursor() as cursor:
        for statement in (_CLEAR, _PEOPLE, _TAGGINGS, _MEMBERSHIPS):
            cursor.execute(statement, ids)
        cursor.execute("VACUUM ANALYZE people_subscriber, people_tagging, people_membership")
    full_catalogue(workspace)
    return names


def parameters(workspace: Workspace, names: Names) -> dict[str, Any]:
    """The parameters of the statement that is written by hand."""
    return {"workspace": workspace.pk, "tag": names.tag.pk, "list": names.news.pk}


def some_people(workspace: Workspace, count: int) -> list[Subscriber]:
    """So many people with a first name, stored."""
    people = [
        Subscriber(
            workspace=workspace,
            address=f"p{number}@example.com",
            address_key=f"p{number}@example.com",
            values={"first_name": f"Ines {number}"},
            added_at=timezone.now(),
        )
        for number in range(count)
    ]
    store_all(people)
    return people
