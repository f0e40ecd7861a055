"""What this room holds of people: nothing."""

from server.workspaces.personal import holds_nobody

from .models import Notice

holds_nobody(Notice, why="what members were told of, by ids and counts")
