"""Starts the server on this machine only."""

import gc
import socket
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from emvar_core.knowledge import knowledge
from emvar_server.wsgi import application
from waitress import serve


class Command(BaseCommand):
    help = "Serves the application on 127.0.0.1."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8017)

    def handle(self, *args: Any, port: int = 8017, **options: Any) -> None:
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                raise CommandError(f"port {port} is in use; choose another with --port")
        knowledge()
        # What is remembered between edits is many small, long-lived objects; walking them all again and again to
        # collect garbage would cost more than an edit does.
        gc.collect()
        gc.freeze()
        gc.set_threshold(50_000, 20, 100)
        self.stdout.write(f"emvar: open http://127.0.0.1:{port}/ in a browser; stop with Ctrl+C")
        serve(application, host="127.0.0.1", port=port, threads=6, ident=None)
