"""Copies all data to one archive, also while the server runs."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from vault.copies import backup, migrations_known
from vault.folder import Unusable, checked, stop


class Command(BaseCommand):
    help = "Copies all data to the archive FILE."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        try:
            checked(settings.DATA, migrations_known())
            count = backup(file.expanduser().absolute())
        except Unusable as error:
            stop(error)
        size = file.expanduser().stat().st_size / 1000
        builds = "1 build" if count == 1 else f"{count} builds"
        self.stdout.write(f"emvar: {builds} copied to {file} ({size:.0f} kB), read back and found whole")
