"""The one child process, and what is known of its work. Polled: nothing waits for it."""

from __future__ import annotations

import json
import subprocess
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from .child import started, tell

Done = Callable[["Job"], None]


@dataclass
class Job:
    """One search as it stands. `state`: waiting, running, done, stopped or failed."""

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
    work: dict[str, Any] = field(default_factory=dict)
    kept: Done | None = None

    @property
    def seconds(self) -> float:
        return (self.ended or time.monotonic()) - self.began


class Search:
    """Starts, watches and stops the child. One job at a time: another build's waits its turn, the same build's new
    one ends the one before."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._child: subprocess.Popen[str] | None = None
        self._jobs: dict[tuple[str, str], Job] = {}
        self._now: Job | None = None
        self._waiting: list[Job] = []
        self._number = 0

    def start(self, build: str, kind: str, work: dict[str, Any], done: Done) -> Job:
        """Gives a job to the child, or lets it wait until that is free. `done` is called, in a thread, when it has
        ended well."""
        with self._lock:
            if (before := self._jobs.get((build, kind))) is not None and before.state in ("waiting", "running"):
                self.stop(build, kind)
            running = self._now if self._now is not None and self._now.state == "running" else None
            if running is not None and running.build == build:
                self.stop(build, running.kind)
                running = None
            self._number += 1
            job = Job(self._number, build, kind, time.monotonic(), "waiting", work=work, kept=done)
            self._jobs[build, kind] = job
            self._waiting.append(job)
            if running is None:
                self._next()
            return job

    def _next(self) -> None:
        """Gives the child the first job that waits; asked with the lock held, while nothing runs."""
        if not self._waiting:
            return
        job = self._now = self._waiting.pop(0)
        job.state, job.began = "running", time.monotonic()
        tell(self._alive(), job.work | {"job": job.id, "kind": job.kind})

    def before(self, job: Job) -> Job | None:
        """The job that a waiting one waits for."""
        with self._lock:
            return self._now if job.state == "waiting" else None

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
            if job is None or job.state not in ("waiting", "running"):
                return job
            was = job.state
            job.state, job.ended = "stopped", time.monotonic()
            if was == "waiting":
                self._waiting.remove(job)
                return job
            if self._child is not None:
                self._child.kill()
                self._child.wait()
                self._child = None
            self._next()
            return job

    def stop_all(self) -> None:
        """Ends whatever runs."""
        with self._lock:
            for job in list(self._waiting):
                self.stop(job.build, job.kind)
            if self._now is not None:
                self.stop(self._now.build, self._now.kind)

    def _alive(self) -> subprocess.Popen[str]:
        if self._child is None or self._child.poll() is not None:
            self._child = started("sittings.worker")
            threading.Thread(target=self._listen, args=(self._child,), daemon=True).start()
        return self._child

    def _listen(self, child: subprocess.Popen[str]) -> None:
        assert child.stdout is not None
        for line in child.stdout:
            said = json.loads(line)
            with self._lock:
                job = self._now
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
                    self._next()
                    continue
            try:
                if job.kept is not None:
                    job.kept(job)
                job.state = "done"
            except Exception as error:
                job.error, job.state = f"it could not be kept: {error}", "failed"
            with self._lock:
                if self._now is job:
                    self._next()
        with self._lock:
            if self._now is not None and self._now.state == "running" and self._child is child:
                self._now.state, self._now.error = "failed", "the search ended by itself; start it again"
                self._next()


SEARCH = Search()
