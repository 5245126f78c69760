"""Processes beside the server: how one is started, and how it listens. Each ends with the server that asks it."""

from __future__ import annotations

import json
import os
import queue
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from typing import Any

from emvar_core.schedule.problem import PATIENCE


def started(module: str) -> subprocess.Popen[str]:
    """A module as a process of its own, talked to in lines of JSON."""
    env = os.environ | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
    return subprocess.Popen(
        [sys.executable, "-m", module], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, encoding="utf-8",
        env=env,
    )  # fmt: skip


def tell(child: subprocess.Popen[str], words: dict[str, Any]) -> None:
    """A line to a process. Raises OSError where it is gone."""
    assert child.stdin is not None
    child.stdin.write(json.dumps(words) + "\n")
    child.stdin.flush()


def listened(nice: int, aside: Callable[[dict[str, Any]], bool] | None = None) -> Iterator[dict[str, Any]]:
    """The messages to a process, as they come in; at low priority. A thread of its own reads it, and ends the process,
    whatever it is at, when nobody is there any more who could ask. That thread asks `aside` first: what it takes is
    dealt with at once, in the middle of what the process is at."""
    words: queue.SimpleQueue[dict[str, Any]] = queue.SimpleQueue()

    def read() -> None:
        for line in sys.stdin:
            told = json.loads(line)
            if aside is None or not aside(told):
                words.put(told)
        os._exit(0)

    if hasattr(os, "nice") and PATIENCE == 1:  # tests that run side by side are all in the same hurry
        os.nice(nice)
    threading.Thread(target=read, daemon=True).start()
    while True:
        yield words.get()
