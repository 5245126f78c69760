"""Looks at the data, brings them up to date, and starts the server on this machine only."""

import gc
import socket
import sqlite3
import sys
from typing import Any

import psutil
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import DatabaseError, connections
from emvar_core.knowledge import knowledge
from emvar_core.memory import MEMORY
from waitress import serve

from vault import demo
from vault.copies import copy_before_migration, migrations_known, pending
from vault.folder import NAME, Unusable, address, checked, locked, owned, stop, writable
from vault.upkeep import Upkeep, once_over

# Idle and slow connections take a place each; they are many before anybody is kept out, and go after a while.
SWITCH_S = 0.0005  # between threads: a short question comes through beside a long one
CONNECTIONS, IDLE_S, SWEEP_S, THREADS = 2000, 60, 15, 6


class Command(BaseCommand):
    help = "Serves the application on 127.0.0.1."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8017)
        parser.add_argument("--demo", action="store_true", help="load the demo builds once")
        parser.add_argument("--reset", action="store_true", help="bring demo builds back as they were")
        parser.add_argument("--lan", nargs="?", const="", default=None, metavar="ADDRESS")
        parser.add_argument("--certificate", action="store_true")

    def handle(
        self, *args: Any, port: int = 8017, demo: bool = False, reset: bool = False, lan: str | None = None,
        certificate: bool = False, **options: Any,
    ) -> None:  # fmt: skip
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                stop(Unusable(f"Port {port} is in use; choose another with --port"))
        try:
            writable(settings.DATA)
            lock = locked(settings.DATA)
            self.bring_up(demo, reset)
        except Unusable as error:
            stop(error)
        except (DatabaseError, sqlite3.Error, OSError) as error:
            stop(Unusable(f"The data in {settings.DATA} could not be brought up to date: {error}"))
        # From here on the file is there: one that was moved away is not made anew, empty, in its place.
        connections.close_all()
        there = address(settings.DATA / NAME, "mode=rw")
        connections.settings["default"]["NAME"] = there
        # Held open, so that the log beside it stays from one request to the next: what is written need not be carried
        # over each time, and what is there can be read when the disk is full.
        held = sqlite3.connect(there, uri=True)
        held.execute("SELECT count(*) FROM sqlite_master").fetchone()
        knowledge()
        MEMORY.measure = lambda: psutil.Process().memory_info().rss
        # What is remembered between edits is many small, long-lived objects; walking them all again and again to
        # collect garbage would cost more than an edit does.
        gc.collect()
        gc.freeze()
        gc.set_threshold(10_000, 5, 2_000)
        sys.setswitchinterval(SWITCH_S)
        from emvar_server.wsgi import application

        self.stdout.write(f"emvar: open http://127.0.0.1:{port}/ in a browser; stop with Ctrl+C")
        if lan is not None:
            self.let_in(application, lan, port, certificate)
        upkeep = Upkeep(settings.DATA)
        upkeep.start()
        try:
            serve(
                application, host="127.0.0.1", port=port, threads=THREADS, ident=None, connection_limit=CONNECTIONS,
                channel_timeout=IDLE_S, cleanup_interval=SWEEP_S, asyncore_use_poll=True,
                max_request_body_size=settings.DATA_UPLOAD_MAX_MEMORY_SIZE * 10,
            )  # fmt: skip
        finally:
            held.close()
            lock.release()

    def let_in(self, application: Any, address: str, port: int, secure: bool) -> None:
        """Lets paired devices of the home network in, and shows the first code."""
        import segno
        from emvar_server.lan import listen, own_addresses
        from journal.pairing import NETWORK, PAIRING

        addresses = [address] if address else own_addresses()
        if not addresses:
            stop(Unusable("No address of a home network was found; name one: --lan 192.168.1.20"))
        try:
            listen(application, addresses, port, settings.DATA, secure)
        except OSError as error:
            stop(Unusable(f"{addresses[0]}:{port} cannot be listened on: {error}"))
        url = f"{NETWORK.urls()[0]}/pair?code={PAIRING.new().text}"
        self.stdout.write(f"emvar: for a phone, good once and for five minutes: {url}")
        segno.make(url, error="m").terminal(compact=True)
        self.stdout.write("emvar: further codes, and the devices that are paired, under All builds")
        if secure:
            self.stdout.write(f"emvar: the certificate's fingerprint is {NETWORK.fingerprint}")

    def bring_up(self, with_demo: bool, reset: bool) -> None:
        """The data as this version needs them. Raises Unusable, with nothing touched, where they cannot be used."""
        if checked(settings.DATA, migrations_known()) and pending(settings.DATA):
            copy = copy_before_migration(settings.DATA)
            self.stdout.write(f"emvar: the data are brought up to date; a copy of them as they were lies in {copy}")
        call_command("migrate", verbosity=0)
        owned(settings.DATA)
        for words in once_over(settings.DATA):
            self.stdout.write(f"emvar: {words}")
        if with_demo:
            for name in demo.load(reset):
                self.stdout.write(f"emvar: demo build loaded: {name}")
