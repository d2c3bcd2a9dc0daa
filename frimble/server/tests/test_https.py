"""The door to the network, tried with Python's own TLS as a device would."""

import http.client
import socket
import ssl
import tempfile
import threading
from contextlib import ExitStack
from datetime import UTC, datetime, timedelta
from pathlib import Path

import waitress.server
from cryptography import x509
from django.test import SimpleTestCase

from frimble.config.hosts import RoomHosts
from frimble.server.https.authority import AUTHORITY, fingerprint, server_certificate
from frimble.server.https.front import Front


def told(environ, start_response):
    """An application that says how it was reached."""
    body = f"{environ['wsgi.url_scheme']} {environ['REMOTE_ADDR']} {len(environ['wsgi.input'].read())}".encode()
    start_response("200 OK", [("Content-Length", str(len(body)))])
    return [body]


class FolderCase(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)


class AuthorityTests(FolderCase):
    def test_names_and_addresses_stand_in_it_and_it_lasts_no_longer_than_devices_take(self):
        path, _ = server_certificate(self.folder, ["room.local", "10.0.0.7"])
        made = x509.load_pem_x509_certificate(path.read_bytes())
        names = made.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        self.assertEqual(names.get_values_for_type(x509.DNSName), ["room.local"])
        self.assertEqual([str(a) for a in names.get_values_for_type(x509.IPAddress)], ["10.0.0.7"])
        # Source: CA/Browser Forum Baseline Requirements 6.3.2: 398 days at most.
        self.assertLessEqual(made.not_valid_after_utc - made.not_valid_before_utc, timedelta(days=398))

    def test_it_stays_until_a_name_is_missing_or_it_ends_and_the_authority_stays_longer(self):
        def made(names, now=None):
            path, _ = server_certificate(self.folder, names, now)
            return x509.load_pem_x509_certificate(path.read_bytes()).serial_number

        first, trusted = made(["room.local"]), fingerprint(self.folder)
        self.assertEqual(made(["room.local"]), first)
        second = made(["room.local", "other.local"])
        self.assertNotEqual(second, first)
        self.assertNotEqual(made(["room.local"], datetime.now(UTC) + timedelta(days=380)), second)
        self.assertEqual(fingerprint(self.folder), trusted)

    def test_keys_are_this_users_alone(self):
        server_certificate(self.folder, ["room.local"])
        for path in self.folder.iterdir():
            self.assertEqual(path.stat().st_mode & 0o777, 0o600, path.name)


class FrontTests(FolderCase):
    def setUp(self):
        super().setUp()
        certificate = server_certificate(self.folder, ["localhost", "127.0.0.1"])
        inner = socket.create_server(("127.0.0.1", 0))
        self.front = Front(("127.0.0.1", 0), inner, *certificate)
        server = waitress.server.create_server(self.front.wrap(told), sockets=[inner], threads=4)
        threading.Thread(target=server.run, daemon=True).start()
        self.addCleanup(server.close)
        self.front.start()
        self.addCleanup(self.front.stop)
        self.context = ssl.create_default_context(cafile=self.folder / AUTHORITY)

    def ask(self, method="GET", body=None):
        asked = http.client.HTTPSConnection("localhost", self.front.port, timeout=10, context=self.context)
        try:
            asked.request(method, "/", body)
            answer = asked.getresponse()
            return answer.status, answer.read().decode()
        finally:
            asked.close()

    def test_a_device_that_trusts_the_authority_is_let_in_by_its_own_address(self):
        self.assertEqual(self.ask(), (200, "https 127.0.0.1 0"))

    def test_a_large_upload_comes_through_whole(self):
        self.assertEqual(self.ask("POST", b"x" * 5_000_000), (200, "https 127.0.0.1 5000000"))

    def test_a_device_that_does_not_trust_it_is_not_fooled(self):
        self.context = ssl.create_default_context()
        with self.assertRaises(ssl.SSLCertVerificationError):
            self.ask()

    def test_http_is_sent_on_to_https(self):
        asked = http.client.HTTPConnection("localhost", self.front.port, timeout=10)
        self.addCleanup(asked.close)
        asked.request("GET", "/screens/Q-014/?a=1")
        answer = asked.getresponse()
        self.assertEqual(answer.status, 308)
        self.assertEqual(answer.headers["Location"], f"https://localhost:{self.front.port}/screens/Q-014/?a=1")

    def test_rubbish_is_turned_away(self):
        for sent in (b"GET http://elsewhere/ HTTP/1.1\r\nHost: a@b\r\n\r\n", b"\r\n\r\n", b"GET / HTTP/1.1\r\n\r\n"):
            with socket.create_connection(("127.0.0.1", self.front.port), timeout=10) as asked:
                asked.sendall(sent)
                self.assertIn(asked.recv(100)[:12], (b"HTTP/1.1 400", b""))
        with socket.create_connection(("127.0.0.1", self.front.port), timeout=10) as asked:
            asked.sendall(b"\x16\x03\x01\xff\xff" + bytes(200))
            self.assertLess(len(asked.recv(100)), 100)
        self.assertEqual(self.ask()[0], 200)

    def test_who_says_nothing_or_half_of_it_stops_nobody(self):
        """From several addresses: one alone is let in a hundred times at most."""
        with ExitStack() as silent:
            for n in range(160):
                half = socket.create_connection(
                    ("127.0.0.1", self.front.port), source_address=(f"127.0.0.{2 + n % 4}", 0)
                )
                silent.enter_context(half)
                if n % 2:
                    half.sendall(b"\x16")
            self.assertEqual(self.ask(), (200, "https 127.0.0.1 0"))

    def test_one_address_cannot_take_all_places(self):
        with ExitStack() as silent:
            for _ in range(130):
                half = socket.create_connection(("127.0.0.1", self.front.port), source_address=("127.0.0.9", 0))
                silent.enter_context(half)
            self.assertEqual(self.ask()[0], 200)
            self.assertEqual(half.recv(1), b"")


class HostTests(FolderCase):
    def test_any_name_leads_to_a_first_start_and_after_it_only_known_ones(self):
        hosts = RoomHosts(["127.0.0.1"], self.folder)
        self.assertIn("*", list(hosts))
        hosts.learn("room.example")
        self.assertIn("room.example", list(hosts))
        self.assertNotIn("*", list(hosts))
        self.assertEqual(RoomHosts([], self.folder).learnt(), ["room.example"])
