"""The API of devices at the bench: a code for a new one, those that are paired, turning one out. This machine only."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import segno
from django.http import HttpRequest
from emvar_core.errors import NotThere
from journal.models import Device
from journal.pairing import GOOD_S, NETWORK, PAIRING, turn_out
from ninja import Router, Schema

from .answers import Problems, refused

router = Router()


class DeviceRow(Schema):
    id: str
    name: str
    paired_at: datetime
    seen_at: datetime | None


class LanOut(Schema):
    """Whether the home network is let in, where, and which devices are paired."""

    on: bool
    urls: list[str]
    secure: bool
    fingerprint: str
    devices: list[DeviceRow]


class CodeOut(Schema):
    """A pairing code, good once: as text, as an address, and as a QR code (SVG)."""

    code: str
    url: str
    svg: str
    good_s: float


@router.get("/lan", response=LanOut)
def read_lan(request: HttpRequest) -> Any:
    """Whether devices of the home network can come in, and which are paired."""
    network = NETWORK
    return LanOut(
        on=network.on, urls=network.urls(), secure=network.secure, fingerprint=network.fingerprint,
        devices=[DeviceRow(id=d.pk, name=d.name, paired_at=d.paired_at, seen_at=d.seen_at)
                 for d in Device.objects.all()],
    )  # fmt: skip


@router.post("/lan/code", response={200: CodeOut, 422: Problems})
def new_code(request: HttpRequest) -> Any:
    """A code for one device, good for five minutes; the one before it is no longer good."""
    network = NETWORK
    if not network.on:
        return refused("network", "the home network is not let in: start Emvar with ./emvar serve --lan")
    code = PAIRING.new()
    url = f"{network.urls()[0]}/pair?code={code.text}"
    return CodeOut(code=code.text, url=url, svg=qr_svg(url), good_s=GOOD_S)


def qr_svg(text: str) -> str:
    """A QR code as a drawing."""
    return segno.make(text, error="m").svg_inline(scale=6, border=4, dark="#000", light="#fff")


@router.delete("/lan/devices/{device_id}", response={200: LanOut, 404: Problems})
def remove_device(request: HttpRequest, device_id: str) -> Any:
    """Turns a device out, at once."""
    if not turn_out(device_id):
        raise NotThere("device", device_id)
    return read_lan(request)
