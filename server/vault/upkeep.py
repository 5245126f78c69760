"""What is done without being asked: a copy after each day of use, and the trash emptied after thirty days."""

from __future__ import annotations

import threading
from pathlib import Path

from builds.store import empty_trash
from django.db import DatabaseError, close_old_connections

from .copies import due, keep_copy
from .folder import Unusable

EVERY_S = 900.0


def once_over(data: Path) -> list[str]:
    """Does what is due. Gives what to tell of it."""
    said = []
    try:
        if due(data):
            said.append(f"the last day's work was copied to {keep_copy(data, 'day')}")
        if gone := empty_trash():
            said.append(f"{gone} entries of builds that lay in the trash for thirty days were deleted")
    except Unusable as error:
        said.append(str(error))
    return said


class Upkeep(threading.Thread):
    """Looks every quarter of an hour whether something is due, as long as the server runs."""

    def __init__(self, data: Path) -> None:
        super().__init__(name="upkeep", daemon=True)
        self.data, self.ended = data, threading.Event()

    def run(self) -> None:
        while not self.ended.wait(EVERY_S):
            try:
                for words in once_over(self.data):
                    print(f"emvar: {words}", flush=True)
            except DatabaseError as error:
                print(f"emvar: the daily copy could not be made: {error}", flush=True)
            finally:
                close_old_connections()
