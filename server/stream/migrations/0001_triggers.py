"""Changes of the tables that screens show are announced by NOTIFY, once for each statement and workspace."""

from django.db import migrations

from server.stream.topics import FUNCTIONS, Topic, triggers_of

_TABLES: dict[str, Topic] = {
    "workspaces_historyentry": "acts",
    "workspaces_workspace": "workspace",
    "workspaces_member": "workspace",
    "sources_routerevision": "drafts",
    "sequences_sequencerevision": "drafts",
    "mail_messagerevision": "drafts",
    "audiences_audiencerevision": "drafts",
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
    "people_suppression": "people",
    "people_task": "people",
}
_UNDONE = """
DROP FUNCTION announce() CASCADE;
DROP FUNCTION announce_workspace() CASCADE;
"""


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("audiences", "0001_initial"),
        ("doors", "0002_every_address"),
        ("mail", "0018_note_of_a_record"),
        ("people", "0023_evidence_keyed"),
        ("replays", "0002_initial"),
        ("sequences", "0013_one_decision"),
        ("services", "0004_outcome"),
        ("snags", "0005_services"),
        ("sources", "0001_initial"),
        ("submissions", "0004_fewer_constraints"),
        ("webhooks", "0002_outcome"),
        ("workspaces", "0009_formats"),
    ]
    operations = [
        migrations.RunSQL(
            FUNCTIONS + "\n".join(triggers_of(table, topic) for table, topic in _TABLES.items()),
            _UNDONE,
        )
    ]
