"""Who comes in from the home network: nobody without a code, which is good once; a device until it is turned out."""

import socket
import tempfile
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta
from http.client import HTTPConnection, HTTPSConnection
from pathlib import Path
from ssl import CERT_REQUIRED, create_default_context
from urllib.parse import urlencode

from django.test import Client, TestCase, TransactionTestCase, override_settings
from emvar_server.lan import COOKIE, MARK, certificate, listen, own_addresses, silence
from emvar_server.wsgi import application
from journal import pairing
from journal.models import Device
from journal.pairing import NETWORK, PAIRING

PHONE = {MARK: "yes", "REMOTE_ADDR": "127.0.0.2"}


class Pairing(TestCase):
    def setUp(self) -> None:
        self.phone, self.desk = Client(**PHONE), Client()
        NETWORK.addresses, NETWORK.port = ["127.0.0.2"], 8017
        self.addCleanup(setattr, NETWORK, "addresses", [])

    def paired(self, code: str, name: str = "Phone") -> int:
        return self.phone.post("/pair", {"code": code, "name": name}).status_code

    def test_a_stranger_gets_the_pairing_page_and_nothing_else(self) -> None:
        for path in ("/", "/api/builds", "/api/lan", "/icon.svg", "/build/x/at-the-bench", "/api/clock"):
            self.assertEqual(self.phone.get(path).status_code, 403, path)
        self.assertEqual(self.phone.get("/pair").status_code, 200)
        self.assertEqual(self.desk.get("/api/builds").status_code, 200)

    def test_a_code_is_good_once(self) -> None:
        code = self.desk.post("/api/lan/code").json()
        self.assertIn(f"127.0.0.2:8017/pair?code={code['code']}", code["url"])
        self.assertIn("<svg", code["svg"])
        self.assertEqual(self.paired(code["code"]), 302)
        self.assertEqual(self.phone.get("/api/builds").status_code, 200)
        self.assertEqual(self.paired(code["code"]), 403)
        self.assertEqual(Device.objects.count(), 1)

    def test_a_code_runs_out_and_wrong_ones_use_it_up(self) -> None:
        self.assertEqual(self.paired(PAIRING.new(good_s=-1).text), 403)
        code = PAIRING.new().text
        for _ in range(pairing.TRIES):
            self.assertEqual(self.paired("WRONG"), 403)
        self.assertEqual(self.paired(code), 403)
        first = PAIRING.new().text
        PAIRING.new()
        self.assertEqual(self.paired(first), 403)  # another one was asked for

    def test_a_device_that_is_turned_out_is_refused_at_once(self) -> None:
        self.assertEqual(self.paired(PAIRING.new().text, "Kitchen tablet"), 302)
        self.assertEqual(self.phone.get("/api/builds").status_code, 200)
        [device] = self.desk.get("/api/lan").json()["devices"]
        self.assertEqual(device["name"], "Kitchen tablet")
        self.assertEqual(self.desk.delete(f"/api/lan/devices/{device['id']}").status_code, 200)
        self.assertEqual(self.phone.get("/api/builds").status_code, 403)
        self.assertEqual(self.desk.delete(f"/api/lan/devices/{device['id']}").status_code, 404)

    def test_a_paired_device_pairs_no_other_and_its_token_is_not_kept(self) -> None:
        self.paired(PAIRING.new().text)
        self.assertEqual(self.phone.post("/api/lan/code").status_code, 403)
        self.assertEqual(self.phone.get("/api/lan").status_code, 403)
        cookie = self.phone.cookies[COOKIE]
        self.assertTrue(cookie["httponly"])
        self.assertEqual(cookie["samesite"], "Strict")
        self.assertNotIn(cookie.value, str(list(Device.objects.values())))
        made_up = Client(**PHONE)
        made_up.cookies[COOKIE] = "x" * 43
        self.assertEqual(made_up.get("/api/builds").status_code, 403)

    def test_without_the_network_there_is_no_code(self) -> None:
        NETWORK.addresses = []
        self.assertEqual(self.desk.post("/api/lan/code").status_code, 422)
        self.assertFalse(self.desk.get("/api/lan").json()["on"])

    def test_hostile_names_are_shown_as_text(self) -> None:
        page = self.phone.get("/pair", {"code": '"><script>alert(1)</script>'}).content.decode()
        self.assertNotIn("<script>", page)
        self.paired(PAIRING.new().text, "<b>x</b>\x00\u202e" + "y" * 200)
        self.assertLessEqual(len(Device.objects.get().name), 80)
        self.assertNotIn("\x00", Device.objects.get().name)


@override_settings(ALLOWED_HOSTS=["127.0.0.1", "localhost", "testserver"])
class Listening(TransactionTestCase):
    """The real thing on loopback addresses: 127.0.0.2 is the phone's side."""

    def setUp(self) -> None:
        self.data = Path(tempfile.mkdtemp())
        with socket.socket() as probe:
            probe.bind(("127.0.0.2", 0))
            self.port = probe.getsockname()[1]

    def listen(self, secure: bool = False) -> None:
        servers = listen(application, ["127.0.0.2"], self.port, self.data, secure)
        self.addCleanup(silence, servers)

    def test_nothing_listens_until_it_is_asked_for(self) -> None:
        with socket.socket() as probe:
            self.assertNotEqual(probe.connect_ex(("127.0.0.2", self.port)), 0)

    def test_a_phone_pairs_over_the_network_and_comes_in(self) -> None:
        self.listen()
        base = f"http://127.0.0.2:{self.port}"
        with self.assertRaises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(f"{base}/api/builds")
        self.assertEqual(refused.exception.code, 403)
        talk = HTTPConnection("127.0.0.2", self.port)
        form = urlencode({"code": PAIRING.new().text, "name": "Phone"})
        talk.request("POST", "/pair", form, {"Content-Type": "application/x-www-form-urlencoded"})
        answer = talk.getresponse()
        answer.read()
        self.assertEqual(answer.status, 302)
        cookie = answer.headers["Set-Cookie"].split(";")[0]
        talk.request("GET", "/api/builds", headers={"Cookie": cookie})
        self.assertEqual(talk.getresponse().status, 200)
        talk.close()

    def test_another_name_for_the_machine_is_refused(self) -> None:
        self.listen()
        talk = HTTPConnection("127.0.0.2", self.port)
        talk.request("GET", "/pair", headers={"Host": "evil.example"})
        self.assertEqual(talk.getresponse().status, 400)
        talk.close()

    def test_a_certificate_of_its_own_is_made_and_kept_until_it_no_longer_fits(self) -> None:
        crt, key, print_ = certificate(self.data, ["127.0.0.2"])
        self.assertEqual(key.stat().st_mode & 0o777, 0o600)
        self.assertEqual(certificate(self.data, ["127.0.0.2"])[2], print_)
        self.assertNotEqual(certificate(self.data, ["127.0.0.3"])[2], print_)
        before = certificate(self.data, ["127.0.0.3"])[2]
        self.assertNotEqual(certificate(self.data, ["127.0.0.3"], datetime.now(UTC) + timedelta(days=398))[2], before)
        crt, _, _ = certificate(self.data, ["127.0.0.2"])
        self.listen(secure=True)
        trusts = create_default_context(cafile=str(crt))
        self.assertEqual(trusts.verify_mode, CERT_REQUIRED)
        talk = HTTPSConnection("127.0.0.2", self.port, context=trusts)
        talk.request("GET", "/pair")
        self.assertEqual(talk.getresponse().status, 200)
        talk.close()

    def test_only_private_addresses_are_offered(self) -> None:
        for address in own_addresses():
            self.assertFalse(address.startswith("127."))
