"""Which devices may come in over the home network: a code that is good once and for minutes, a token that is kept."""

from __future__ import annotations

import hashlib
import hmac
import secrets
import threading
import time
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from django.utils import timezone

from .models import Device

LETTERS = "23456789ABCDEFGHJKMNPQRSTUVWXYZ"  # none that are taken for another
LENGTH, GOOD_S, TRIES = 10, 300.0, 5
SEEN_EVERY = timedelta(minutes=1)


@dataclass
class Code:
    """A pairing code and until when it is good; each wrong try uses it up a little."""

    text: str
    until: float
    left: int = TRIES


class Pairing:
    """The one code that is good at a time. It is kept in memory only: a restart ends it."""

    def __init__(self) -> None:
        self._code: Code | None = None
        self._lock = threading.Lock()

    def new(self, good_s: float = GOOD_S) -> Code:
        """A new code; the one before is no longer good."""
        with self._lock:
            self._code = Code("".join(secrets.choice(LETTERS) for _ in range(LENGTH)), time.monotonic() + good_s)
            return self._code

    def take(self, text: str) -> bool:
        """Whether this is the code. It is good once; after some wrong ones nothing is."""
        with self._lock:
            code = self._code
            if code is None or time.monotonic() > code.until:
                self._code = None
                return False
            if hmac.compare_digest(code.text.encode(), text.strip().upper().encode()):
                self._code = None
                return True
            code.left -= 1
            if code.left <= 0:
                self._code = None
            return False


PAIRING = Pairing()


@dataclass
class Network:
    """What is open to the home network, for whoever tells of it."""

    addresses: list[str] = field(default_factory=list)
    port: int = 0
    secure: bool = False
    fingerprint: str = ""

    @property
    def on(self) -> bool:
        return bool(self.addresses)

    def urls(self) -> list[str]:
        return [f"{'https' if self.secure else 'http'}://{a}:{self.port}" for a in self.addresses]


NETWORK = Network()


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def pair(name: str) -> str:
    """Takes a device in. Gives its token, which is shown once and kept here only as a hash."""
    token = secrets.token_urlsafe(32)
    Device.objects.create(
        pk=secrets.token_hex(8), name=name[:80] or "a device", token_hash=_hash(token), paired_at=timezone.now()
    )
    return token


def known(token: str, now: datetime | None = None) -> Device | None:
    """The device that a token is of; None where there is none, or it was turned out."""
    if not token:
        return None
    device = Device.objects.filter(token_hash=_hash(token)).first()
    now = now or timezone.now()
    if device is not None and (device.seen_at is None or now - device.seen_at > SEEN_EVERY):
        Device.objects.filter(pk=device.pk).update(seen_at=now)
    return device


def turn_out(device_id: str) -> bool:
    """Turns a device out: from then on it is refused. False where there is none."""
    return Device.objects.filter(pk=device_id).delete()[0] > 0
