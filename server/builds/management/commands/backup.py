"""Copies the data to one file, also while the server runs."""

import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser


class Command(BaseCommand):
    help = "Copies the database to FILE."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        if file.exists():
            raise CommandError(f"{file} exists already; choose another name")
        source = sqlite3.connect(settings.DATA / "emvar.sqlite3")
        target = sqlite3.connect(file)
        with target:
            source.backup(target)
        target.close()
        source.close()
        self.stdout.write(f"emvar: data copied to {file}")
