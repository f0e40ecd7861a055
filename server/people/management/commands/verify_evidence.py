"""manage.py verify_evidence: whether anybody has changed the evidence of consent."""

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.people.chain import broken_chains
from server.people.journal import behind_the_journal, tampered_lines
from server.workspaces.models import Workspace


class Command(BaseCommand):
    help = "Check every chain of evidence; names the first broken entry of each that does not hold."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "workspace", nargs="*", help="slugs; all workspaces where none is given"
        )

    def handle(self, *args: object, **options: list[str]) -> None:
        rows = Workspace.objects.order_by("slug")
        if options["workspace"]:
            rows = rows.filter(slug__in=options["workspace"])
        broken = 0
        for workspace in rows:
            for chain, found in broken_chains(workspace):
                broken += 1
                self.stdout.write(
                    f"{workspace.slug}: chain {chain}, entry {found.number}: {found.why}"
                )
            for named, found in behind_the_journal(workspace):
                broken += 1
                self.stdout.write(
                    f"{workspace.slug}: chain {named}, entry {found.number}: {found.why}, by the journal"
                )
        for name, line in tampered_lines():
            broken += 1
            self.stdout.write(f"the journal {name} is not as it was written, from line {line} on")
        if broken:
            raise CommandError(f"{broken} of the chains do not hold.")
        self.stdout.write("Every chain holds.")
