"""Jobs of files and sheets; what each does is in `tasks.py`."""

from server.workspaces.queues import Job

FILE = Job("imports.work_on_file", "files", "file/", "import_id")


SHEET = Job("imports.look_at_sheet", "files", "sheet/", "watch_id")
