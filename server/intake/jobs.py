"""The jobs of the intake; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

ROUTE = Job("intake.route_one", "intake", "route/", "submission_id")
FILE = Job("intake.work_on_file", "files", "file/", "import_id")
REPLAY = Job("intake.work_on_replay", "files", "replay/", "replay_id")
SHEET = Job("intake.look_at_sheet", "files", "sheet/", "watch_id")
ERASE = Job("intake.erase_person", "intake")
CHANGE_ADDRESS = Job("intake.change_address_of", "intake")
TELL_MEMBER = Job("intake.tell_member", "mail")
