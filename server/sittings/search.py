"""The one child process, and what is known of its work. Polled: nothing waits for it."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any


@dataclass
class Job:
    """One search as it stands. `state`: running, done, stopped or failed."""

    id: int
    build: str
    kind: str
    began: float
    state: str = "running"
    goal: str = ""
    value: float | None = None
    bound: float | None = None
    schedule: dict[str, Any] | None = None
    result: Any = None
    error: str = ""
    ended: float | None = None

    @property
    def seconds(self) -> float:
        return (self.ended or time.monotonic()) - self.began


Done = Callable[[Job], None]


class Search:
    """Starts, watches and stops the child. One job at a time; a new one ends the one before."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._child: subprocess.Popen[str] | None = None
        self._jobs: dict[tuple[str, str], Job] = {}
        self._now: Job | None = None
        self._done: Done = lambda _: None
        self._number = 0

    def start(self, build: str, kind: str, work: dict[str, Any], done: Done) -> Job:
        """Gives a job to the child. `done` is called, in a thread, when it has ended well."""
        with self._lock:
            if self._now is not None and self._now.state == "running":
                self.stop(self._now.build, self._now.kind)
            self._number += 1
            job = self._now = Job(self._number, build, kind, time.monotonic())
            self._jobs[build, kind] = job
            self._done = done
            child = self._alive()
            assert child.stdin is not None
            child.stdin.write(json.dumps(work | {"job": job.id, "kind": kind}) + "\n")
            child.stdin.flush()
            return job

    def warm(self) -> None:
        """Starts the child before it is needed: its packages take a while to load."""
        with self._lock:
            self._alive()

    def job(self, build: str, kind: str) -> Job | None:
        with self._lock:
            return self._jobs.get((build, kind))

    def stop(self, build: str, kind: str) -> Job | None:
        """Ends a search; what it had found so far stays in the job."""
        with self._lock:
            job = self._jobs.get((build, kind))
            if job is None or job.state != "running":
                return job
            job.state, job.ended = "stopped", time.monotonic()
            if self._child is not None:
                self._child.kill()
                self._child.wait()
                self._child = None
            return job

    def stop_all(self) -> None:
        """Ends whatever runs."""
        with self._lock:
            for build, kind in list(self._jobs):
                self.stop(build, kind)

    def _alive(self) -> subprocess.Popen[str]:
        if self._child is None or self._child.poll() is not None:
            env = os.environ | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
            self._child = subprocess.Popen(
                [sys.executable, "-m", "sittings.worker"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
                encoding="utf-8", env=env,
            )  # fmt: skip
            threading.Thread(target=self._listen, args=(self._child,), daemon=True).start()
        return self._child

    def _listen(self, child: subprocess.Popen[str]) -> None:
        assert child.stdout is not None
        for line in child.stdout:
            said = json.loads(line)
            with self._lock:
                job, done = self._now, self._done
                if job is None or said.get("job") != job.id or job.state != "running":
                    continue
                if not said.get("done"):
                    job.goal, job.value, job.bound = said["goal"], said["value"], said["bound"]
                    job.schedule = said["schedule"] or job.schedule
                    continue
                job.ended = time.monotonic()
                job.error, job.result = said.get("error", ""), said.get("result")
                if job.error:
                    job.state = "failed"
                    continue
            try:
                done(job)
                job.state = "done"
            except Exception as error:
                job.error, job.state = f"it could not be kept: {error}", "failed"
        with self._lock:
            if self._now is not None and self._now.state == "running" and self._child is child:
                self._now.state, self._now.error = "failed", "the search ended by itself; start it again"


SEARCH = Search()
