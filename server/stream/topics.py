"""What open screens are told has changed: topics, and the tables whose changes each tells of.

Triggers of the database announce them (`migrations/0001_triggers.py`), so that no action has to think of it.
To add a table, name it here and give it its triggers in a migration by `triggers_of`.
"""

from typing import Literal, get_args

CHANNEL = "changed"
"""Of NOTIFY: each notification is "<workspace> <topic>"."""

Topic = Literal[
    "acts",
    "broadcasts",
    "drafts",
    "files",
    "mail",
    "people",
    "replays",
    "runs",
    "services",
    "snags",
    "submissions",
    "workspace",
]
TOPICS: tuple[Topic, ...] = get_args(Topic)

TABLES: dict[str, Topic] = {
    "workspaces_historyentry": "acts",
    "workspaces_workspace": "workspace",
    "workspaces_member": "workspace",
    "sources_routerevision": "drafts",
    "sequences_sequencerevision": "drafts",
    "mail_messagerevision": "drafts",
    "audiences_audiencerevision": "drafts",
    "broadcasts_broadcastrevision": "drafts",
    "broadcasts_broadcast": "broadcasts",
    "submissions_submission": "submissions",
    "webhooks_call": "submissions",
    "submissions_fileimport": "files",
    "sources_watch": "files",
    "replays_replay": "replays",
    "snags_snag": "snags",
    "sequences_run": "runs",
    "sequences_forecast": "runs",
    "doors_admission": "runs",
    "mail_send": "mail",
    "mail_touch": "mail",
    "mail_returned": "mail",
    "mail_sendinghold": "mail",
    "mail_sendingdomain": "mail",
    "services_service": "services",
    "services_handoff": "services",
    "services_heard": "services",
    "people_membership": "people",
    "people_subscriber": "people",
    "people_suppression": "people",
    "people_task": "people",
}
Kind = Literal["INSERT", "UPDATE", "DELETE"]
KINDS: tuple[Kind, ...] = get_args(Kind)
ONLY: dict[str, Kind] = {
    # A draft that is saved again and again moves the time of its entry.
    "workspaces_historyentry": "INSERT",
    # Somebody who is erased is shown nowhere. What else becomes of a person is told by what changes with it.
    "people_subscriber": "DELETE",
}
"""Tables of which one kind of change alone is told."""

FUNCTIONS = f"""
CREATE FUNCTION announce() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('{CHANNEL}', one || ' ' || TG_ARGV[0])
    FROM (SELECT DISTINCT workspace_id::text AS one FROM touched) AS workspaces;
    RETURN NULL;
END $$;
CREATE FUNCTION announce_workspace() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('{CHANNEL}', id::text || ' ' || TG_ARGV[0]) FROM touched;
    RETURN NULL;
END $$;
"""


def triggers_of(table: str, topic: Topic) -> str:
    """The statements that make the triggers of a table."""
    function = "announce_workspace" if table == "workspaces_workspace" else "announce"
    return "\n".join(
        f"CREATE TRIGGER announces_{kind.lower()} AFTER {kind} ON {table} "
        f"REFERENCING {'OLD' if kind == 'DELETE' else 'NEW'} TABLE AS touched "
        f"FOR EACH STATEMENT EXECUTE FUNCTION {function}('{topic}');"
        for kind in KINDS
        if ONLY.get(table, kind) == kind
    )
