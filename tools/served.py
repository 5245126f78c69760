"""A server of its own for the tools: its own folder and port, talked to over HTTP as the interface does."""

from __future__ import annotations

import http.client
import json
import os
import secrets
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import psutil

ROOT = Path(__file__).resolve().parent.parent
for part in ("core", "server", "."):
    sys.path.insert(0, str(ROOT / part))
WAIT_S = 120.0


def free_port() -> int:
    """A port of this machine that nobody listens at."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Away(Exception):
    """There was no answer: the server is not there, or went away in between."""


class Served:
    """`./emvar serve` as a process that can be killed."""

    def __init__(self, data: Path, port: int) -> None:
        self.data, self.port = data, port
        self.process: subprocess.Popen[bytes] | None = None
        self.token = secrets.token_hex(16)

    def start(self, *more: str, most_file_mb: int | None = None) -> None:
        """Starts it and waits until it answers. `most_file_mb`: no file may grow beyond that. Raises Away."""
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                raise Away(f"something else answers at port {self.port}")
        env = {**os.environ, "EMVAR_DATA": str(self.data), "DJANGO_SETTINGS_MODULE": "emvar_server.settings"}
        env["PYTHONPATH"] = os.pathsep.join(str(ROOT / p) for p in ("core", "server", "."))
        command = [sys.executable, "-m", "django", "serve", "--port", str(self.port), *more]
        self.process = subprocess.Popen(command, env=env, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE)
        if most_file_mb is not None:
            most = most_file_mb * 1_000_000
            psutil.Process(self.process.pid).rlimit(psutil.RLIMIT_FSIZE, (most, most))
        until = time.monotonic() + WAIT_S
        while time.monotonic() < until:
            if self.process.poll() is not None:
                assert self.process.stderr is not None
                raise Away(self.process.stderr.read().decode()[-500:])
            try:
                self.ask("GET", "/api/builds")
                return
            except Away:
                time.sleep(0.05)
        raise Away("it does not start")

    def kill(self) -> None:
        """Ends it in the middle of whatever it does."""
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL if os.name == "posix" else signal.SIGTERM)
            self.process.wait()
            if self.process.stderr is not None:
                self.process.stderr.close()

    def resident_mb(self) -> float:
        """How much memory the server has, with its child."""
        assert self.process is not None
        me = psutil.Process(self.process.pid)
        return float(me.memory_info().rss / 1e6)

    def ask(self, method: str, path: str, body: Any = None, timeout: float = 60.0) -> tuple[int, Any]:
        """Status and what was answered, JSON where it is. Raises Away where there was no answer."""
        headers = {"Host": f"127.0.0.1:{self.port}", "Cookie": f"csrftoken={self.token}", "X-CSRFToken": self.token}
        sent = body
        if body is not None and not isinstance(body, bytes):
            sent = json.dumps(body).encode()
        if body is not None:
            headers["Content-Type"] = "application/json"
        link = http.client.HTTPConnection("127.0.0.1", self.port, timeout=timeout)
        try:
            link.request(method, path, sent, headers)
            answer = link.getresponse()
            raw = answer.read()
        except (OSError, http.client.HTTPException) as error:
            raise Away(str(error)) from None
        finally:
            link.close()
        kind = answer.headers.get("Content-Type", "")
        return answer.status, json.loads(raw) if raw and "json" in kind else raw


def spread(times: list[float]) -> str:
    """Times in seconds as p50, p95 and worst, in ms."""
    if not times:
        return "none"
    sorted_ = sorted(times)
    p95 = sorted_[min(int(len(sorted_) * 0.95), len(sorted_) - 1)]
    return f"p50 {sorted_[len(sorted_) // 2] * 1e3:.0f} ms, p95 {p95 * 1e3:.0f} ms, worst {sorted_[-1] * 1e3:.0f} ms"
