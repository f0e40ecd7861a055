from django.apps import AppConfig


class WorkspacesConfig(AppConfig):
    name = "server.workspaces"

    def ready(self) -> None:
        """Say what the rows of this room hold of people."""
        from .causes import Cause
        from .models import HistoryEntry, Member, User, Workspace
        from .personal import Subject, holds_nobody, holds_people

        def take_out(subject: Subject) -> None:
            """A sentence names things by the names that members give them, which can be anything."""
            for row in HistoryEntry.objects.of(subject.workspace).filter(
                subject.named_in("sentence")
            ):
                row.sentence = subject.without(row.sentence)[:500]
                row.save(update_fields=["sentence"])

        holds_nobody(Workspace, why="an organisation's settings")
        holds_nobody(User, Member, why="members alone")
        holds_people(
            HistoryEntry,
            erasing="their address is taken out of its sentence, where a thing was named after it",
            merging="stays",
            exporting="no: what members did",
            retention="for good",
            erase=take_out,
        )
        holds_nobody(Cause, why="names of sources, sequences and members")
