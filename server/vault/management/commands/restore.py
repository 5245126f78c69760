"""Brings all data back from an archive, or from a copy of the database that an older version made."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from vault.copies import restore
from vault.folder import Unusable, locked, owned, stop, writable


class Command(BaseCommand):
    help = "Replaces all data by those of FILE; what was there is kept aside."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        try:
            writable(settings.DATA)
            lock = locked(settings.DATA)
            try:
                done = restore(file.expanduser().absolute())
                owned(settings.DATA)
            finally:
                lock.release()
        except Unusable as error:
            stop(error)
        builds = "1 build is" if done.builds == 1 else f"{done.builds} builds are"
        self.stdout.write(f"emvar: {builds} back")
        if done.aside is not None:
            self.stdout.write(f"emvar: what was there before lies in {done.aside}")
