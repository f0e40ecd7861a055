"""What this room holds of people: nothing."""

from server.workspaces.personal import holds_nobody

from .models import RouteRevision, Source, Watch

holds_nobody(Source, RouteRevision, Watch, why="what members set up")
