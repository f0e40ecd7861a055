"""Print the OpenAPI description of the API."""

import json
from typing import Any

from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = "Print the OpenAPI description."

    def handle(self, *args: Any, **options: Any) -> None:
        from server.config.api import api

        self.stdout.write(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True))
