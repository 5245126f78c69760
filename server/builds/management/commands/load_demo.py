"""Loads the demo builds once, by fixed ids; never over what the user has made of them."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from vault.demo import load


class Command(BaseCommand):
    help = "Loads the demo builds that have not been loaded before."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--reset", action="store_true", help="bring the demo builds back as they were")

    def handle(self, *args: Any, reset: bool = False, **options: Any) -> None:
        for name in load(reset):
            if options["verbosity"]:
                self.stdout.write(f"emvar: demo build loaded: {name}")
