from django.apps import AppConfig


class WorkspacesConfig(AppConfig):
    name = "server.workspaces"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from .causes import Cause
        from .models import HistoryEntry, Member, User, Workspace
        from .personal import holds_nobody

        holds_nobody(Workspace, why="an organisation's settings")
        holds_nobody(User, Member, why="members alone")
        holds_nobody(HistoryEntry, why="its sentences name no people")
        holds_nobody(Cause, why="names of sources, sequences and members")
