"""Jobs that a decision sets going; what they do is in `tasks.py` here and of `profiles`."""

from server.workspaces.queues import Job

ERASE = Job("profiles.erase_person", "routing")


CHANGE_ADDRESS = Job("profiles.change_address_of", "routing")


TELL_MEMBER = Job("routing.tell_member", "mail")
