"""Print the OpenAPI description of the API, or what the screens need of the rules."""

import json
from typing import get_args

from django.core.management.base import BaseCommand, CommandParser

from core.conditions import comparisons_of
from core.reading import Question, inputs_of
from core.values import FieldType
from server.workspaces.shapes import Json


class Command(BaseCommand):
    help = "Print the OpenAPI description."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--rules", action="store_true", help="what the screens need of the rules"
        )

    def handle(self, *args: object, **options: object) -> None:
        from server.config.api import api

        found = _rules() if options["rules"] else api.get_openapi_schema()
        self.stdout.write(json.dumps(found, indent=1, sort_keys=True))


def _rules() -> Json:
    """The comparisons of each type of field, and the boxes of questions that have several."""
    several = (
        Question(id="q", name="q", type="address"),
        Question(id="q", name="q", type="name", boxes=2),
    )
    return {
        "comparisons": {one: comparisons_of(one) for one in get_args(FieldType)},
        "boxes": {
            one.type: [{"part": box.part, "label": box.label} for box in inputs_of(one)]
            for one in several
        },
    }
