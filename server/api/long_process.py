"""A process beside the server for long questions about long plans, so that short ones are answered meanwhile.

It is started when it is first needed, takes one question at a time, and ends with the server
(`long_questions.py`). Meanwhile it can be asked how far it is, and told to stop.
"""

from __future__ import annotations

import json
import subprocess
import threading
from dataclasses import dataclass

from builds.store import plan_json
from emvar_core.plan import Plan
from sittings.child import started, tell

from .answers import Busy
from .long_questions import answered

LONG_STEPS = 100  # from which on a plan's long questions are answered beside the server
WAITS_S = 0.2


@dataclass
class Looking:
    """The question that is being answered, and how many seams or effects were looked at."""

    build: str
    kind: str
    number: int
    looked_at: int = 0


class Helper:
    """The process, and the way to ask it. `asking` is held while it is at a question."""

    def __init__(self) -> None:
        self.asking = threading.Lock()
        self._telling = threading.Lock()
        self._child: subprocess.Popen[str] | None = None
        self._number = 0
        self._now: Looking | None = None

    def ask(self, build: str, kind: str, plan: Plan) -> str:
        """The answer as JSON. Raises Busy while another question is answered; one asks again then."""
        if not self.asking.acquire(timeout=WAITS_S):
            raise Busy
        try:
            if self._child is None or self._child.poll() is not None:
                self._child = started(answered.__module__)
            assert self._child.stdout is not None
            self._number += 1
            now = Looking(build, kind, self._number)
            try:
                with self._telling:
                    tell(self._child, {"kind": kind, "number": now.number, "plan": plan_json(plan)})
                self._now = now
                answer = self._child.stdout.readline()
                while answer.startswith('{"looked_at"'):
                    now.looked_at = json.loads(answer)["looked_at"]
                    answer = self._child.stdout.readline()
            except BrokenPipeError:
                answer = ""
            if not answer:
                self.end()
                raise RuntimeError("the helper ended in the middle of a question")
            return answer
        finally:
            self._now = None
            self.asking.release()

    def at(self, build: str) -> Looking | None:
        """What is being answered of a build."""
        now = self._now
        return now if now is not None and now.build == build else None

    def stop(self, build: str) -> None:
        """Has what is being answered of a build end with what was found so far."""
        now, child = self.at(build), self._child
        if now is not None and child is not None:
            try:
                with self._telling:
                    tell(child, {"stop": now.number})
            except OSError:
                pass  # it ended meanwhile: whoever asked gets the error

    def end(self) -> None:
        """Ends the process; the next question starts another."""
        if self._child is not None:
            self._child.kill()
            self._child.wait()
            self._child = None


HELPER = Helper()


def version_of(build: str, kind: str, plan: Plan) -> str:
    """A mended or undoable version of a plan as JSON: a long plan's is worked out beside the server."""
    return HELPER.ask(build, kind, plan) if len(plan.steps) >= LONG_STEPS else answered(kind, plan)
