"""Loads the demo builds once, by fixed ids; never over what the user has made of them."""

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from emvar_core.plan import parse_plan

from builds import store
from builds.models import Build, DemoLoaded


class Command(BaseCommand):
    help = "Loads the demo builds that have not been loaded before."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--reset", action="store_true", help="bring the demo builds back as they were")

    def handle(self, *args: Any, reset: bool = False, **options: Any) -> None:
        for path in sorted((settings.ROOT / "demo").glob("*.json")):
            build_id = f"demo-{path.stem}"
            with transaction.atomic():
                if reset:
                    Build.everything.filter(pk=build_id).delete()
                    DemoLoaded.objects.filter(pk=build_id).delete()
                if DemoLoaded.objects.filter(pk=build_id).exists():
                    continue
                store.create(parse_plan(json.loads(path.read_text(encoding="utf-8"))), build_id)
                DemoLoaded.objects.create(pk=build_id)
            if options["verbosity"]:
                self.stdout.write(f"emvar: demo build loaded: {path.stem}")
