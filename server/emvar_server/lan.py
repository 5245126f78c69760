"""The way in from the home network: off unless asked for, and for paired devices only; everything else is refused."""

from __future__ import annotations

import html
import ipaddress
import ssl
import threading
from collections.abc import Callable, Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psutil
from cheroot.ssl.builtin import BuiltinSSLAdapter
from cheroot.wsgi import Server
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from journal.pairing import NETWORK, PAIRING, known, pair
from vault.folder import OWN_FILE

MARK = "emvar.lan"  # in the environment of a request that came over the network
COOKIE, YEAR_S = "emvar-device", 365 * 86400
KEY, CERTIFICATE = "lan.key", "lan.crt"
CERTIFIED = timedelta(days=398)  # longer ones are refused by browsers


def own_addresses() -> list[str]:
    """This machine's addresses on private networks; none that can be reached from the world."""
    found = [a.address for rows in psutil.net_if_addrs().values() for a in rows if a.family.name == "AF_INET"]
    return [a for a in found if ipaddress.ip_address(a).is_private and not ipaddress.ip_address(a).is_loopback]


class Paired:
    """Lets requests from the network in only with a paired device's token; this machine's own pass."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.META.get(MARK):
            return self.get_response(request)
        if request.path == "/pair":
            return _pair(request)
        if known(request.COOKIES.get(COOKIE, "")) is not None:
            if request.path.startswith("/api/lan"):
                return _refused(request, "devices are paired and turned out at the machine itself")
            return self.get_response(request)
        return _refused(request, "this device is not paired; ask for a code at the machine that Emvar runs on")


def _refused(request: HttpRequest, what: str) -> HttpResponse:
    if request.path.startswith("/api/"):
        return JsonResponse({"problems": [{"where": "device", "what": what}]}, status=403)
    return _page("Not paired", f"<p>{html.escape(what[:1].upper() + what[1:])}.</p>", 403)


def _page(title: str, body: str, status: int = 200) -> HttpResponse:
    page = (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width, initial-scale=1">'
        f"<title>Emvar: {title}</title></head><body><h1>{title}</h1>{body}</body></html>"
    )
    response = HttpResponse(page, status=status)
    response.headers["Cache-Control"] = "no-store"
    return response


def _pair(request: HttpRequest) -> HttpResponse:
    """The page that takes a code, and what comes of it. The code, good once, stands for any other proof."""
    if request.method != "POST":
        code = html.escape(request.GET.get("code", "")[:40], quote=True)
        form = (
            '<form method="post" action="/pair"><p><label>Code <input name="code" required autocomplete="off" '
            f'value="{code}"></label></p><p><label>Call this device <input name="name" maxlength="80" '
            'value="Phone"></label></p><p><button>Pair it</button></p></form>'
        )
        return _page("Pair this device", form)
    if not PAIRING.take(request.POST.get("code", "")[:40]):
        return _page(
            "That code is not good",
            "<p>It was used, is older than five minutes, or was mistyped. Ask for another one at the machine.</p>",
            403,
        )
    name = "".join(c for c in request.POST.get("name", "") if c.isprintable())
    response = HttpResponseRedirect("/")
    response.set_cookie(
        COOKIE, pair(name), max_age=YEAR_S, httponly=True, samesite="Strict", secure=request.is_secure()
    )
    return response


App = Callable[[dict[str, Any], Any], Iterable[bytes]]


def over_network(application: App) -> App:
    """The application as it is reached from the network: each request is marked as having come from there."""

    def marked(environ: dict[str, Any], start: Any) -> Iterable[bytes]:
        return application({**environ, MARK: "yes"}, start)

    return marked


def certificate(data: Path, addresses: list[str], now: datetime | None = None) -> tuple[Path, Path, str]:
    """A certificate of this machine's own for its addresses, made once and again when they change or it runs out.

    Gives its file, its key's file, and its fingerprint (SHA-256), which is compared by eye on the device.
    """
    now = now or datetime.now(UTC)
    crt, key_path = data / CERTIFICATE, data / KEY
    if crt.exists() and key_path.exists():
        kept = x509.load_pem_x509_certificate(crt.read_bytes())
        names = kept.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        there = {str(ip) for ip in names.get_values_for_type(x509.IPAddress)}
        if set(addresses) <= there and kept.not_valid_after_utc > now + timedelta(days=1):
            return crt, key_path, _fingerprint(kept)
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Emvar on this machine")])
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + CERTIFIED)
        .add_extension(
            x509.SubjectAlternativeName([x509.IPAddress(ipaddress.ip_address(a)) for a in addresses]), critical=False
        )
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .sign(key, hashes.SHA256())
    )
    private = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    key_path.touch(mode=OWN_FILE)
    key_path.write_bytes(private)
    crt.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return crt, key_path, _fingerprint(made)


def _fingerprint(made: x509.Certificate) -> str:
    return made.fingerprint(hashes.SHA256()).hex(":").upper()


def listen(application: App, addresses: list[str], port: int, data: Path, secure: bool) -> list[Server]:
    """Listens on addresses of the home network. Raises OSError where one cannot be had."""
    servers = []
    NETWORK.addresses, NETWORK.port, NETWORK.secure, NETWORK.fingerprint = [], port, secure, ""
    for address in addresses:
        server = Server((address, port), over_network(application), numthreads=4, server_name="")
        server.max_request_body_size = settings.DATA_UPLOAD_MAX_MEMORY_SIZE * 2
        if secure:
            crt, key, NETWORK.fingerprint = certificate(data, addresses)
            server.ssl_adapter = BuiltinSSLAdapter(str(crt), str(key))
            server.ssl_adapter.context.minimum_version = ssl.TLSVersion.TLSv1_2
        server.prepare()
        threading.Thread(target=server.serve, name=f"lan {address}", daemon=True).start()
        servers.append(server)
        NETWORK.addresses.append(address)
        if address not in settings.ALLOWED_HOSTS:
            settings.ALLOWED_HOSTS.append(address)
    return servers


def silence(servers: list[Server]) -> None:
    """Stops listening."""
    for server in servers:
        server.stop()
    for address in NETWORK.addresses:
        if address in settings.ALLOWED_HOSTS and address not in ("127.0.0.1", "localhost"):
            settings.ALLOWED_HOSTS.remove(address)
    NETWORK.addresses = []
