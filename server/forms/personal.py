"""What this room holds of people: nothing."""

from server.workspaces.personal import holds_nobody

from .models import Picture

holds_nobody(Picture, why="what members set up")
