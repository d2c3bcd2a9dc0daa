"""The command behind `make demo`."""

import http.client
import io
import socket
import threading
from unittest import mock

import waitress.server
from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import SimpleTestCase, TestCase, override_settings

from frimble.config.hosts import RoomHosts
from frimble.demo import loader
from frimble.people.models import Person
from frimble.server import health, lock
from frimble.server.management.commands import serve
from frimble.testing.case import own_data_folder


class ServeTests(TestCase):
    def setUp(self):
        own_data_folder(self)

    def serve(self, *asked) -> str:
        answer, here = io.StringIO(), "frimble.server.management.commands.serve"
        with mock.patch(f"{here}.waitress.serve") as served, mock.patch(f"{here}.WatchedWorker") as worker:
            self.addCleanup(setattr, health, "worker", None)
            call_command("serve", "--port", "8009", *asked, stdout=answer)
        self.assertEqual((served.call_args.kwargs["host"], served.call_args.kwargs["port"]), ("127.0.0.1", 8009))
        worker.return_value.stop.assert_called_once()
        return answer.getvalue()

    def test_the_demo_tells_its_sign_ins_before_the_address(self):
        with mock.patch.object(loader, "loaded", return_value=True):
            answer = self.serve("--scenario")
        self.assertIn("loaded already", answer)
        self.assertLess(answer.index("odile-pennant"), answer.index("http://127.0.0.1:8009/"))

    def test_a_shop_of_its_own_is_served_without_the_made_up_one(self):
        self.assertNotIn("pennant", self.serve())

    def test_one_folder_has_one_server(self):
        with lock.held(settings.VAR_DIR), self.assertRaisesMessage(CommandError, "A server runs on"):
            call_command("serve", stdout=io.StringIO())

    def test_by_https_cookies_are_for_https_alone_and_known_names_lead_here(self):
        Person.objects.create_user("odile", role="lead")
        here = "frimble.server.management.commands.serve"
        with (
            override_settings(ROOM_HOSTS=RoomHosts(["127.0.0.1"], settings.VAR_DIR), ALLOWED_HOSTS=[],
                              SESSION_COOKIE_SECURE=False, CSRF_COOKIE_SECURE=False, SECURE_HSTS_SECONDS=0),
            mock.patch(f"{here}.waitress.serve") as served,
            mock.patch(f"{here}.WatchedWorker"),
        ):  # fmt: skip
            self.addCleanup(setattr, health, "worker", None)
            answer = io.StringIO()
            call_command("serve", "--listen", "127.0.0.1:0", stdout=answer)
            self.assertTrue(settings.SESSION_COOKIE_SECURE and settings.CSRF_COOKIE_SECURE)
            self.assertEqual(settings.SECURE_HSTS_SECONDS, 31_536_000)
            self.assertIn(socket.gethostname(), list(settings.ALLOWED_HOSTS))
            self.assertNotIn("*", list(settings.ALLOWED_HOSTS))
        self.assertEqual(served.call_args.kwargs["sockets"][0].getsockname()[0], "127.0.0.1")
        self.assertIn("https://", answer.getvalue())
        self.assertIn("/trust/", answer.getvalue())

    def test_where_to_listen_is_told_when_it_cannot_be(self):
        for said in ("8443", "0.0.0.0:x", ":8443", "0.0.0.0:70000"):
            with self.subTest(said), self.assertRaisesMessage(CommandError, "ADDRESS:PORT"):
                call_command("serve", "--listen", said, stdout=io.StringIO())

    def test_a_proxy_is_believed_only_where_the_settings_say_there_is_one(self):
        for proxy, expected in ((True, "127.0.0.1"), (False, None)):
            with override_settings(PROXY=proxy):
                here = "frimble.server.management.commands.serve"
                with mock.patch(f"{here}.waitress.serve") as served, mock.patch(f"{here}.WatchedWorker"):
                    self.addCleanup(setattr, health, "worker", None)
                    call_command("serve", stdout=io.StringIO())
                self.assertEqual(served.call_args.kwargs.get("trusted_proxy"), expected)


class ProxyTests(SimpleTestCase):
    """waitress as `serve` sets it up behind a proxy on this machine."""

    def test_scheme_and_address_are_the_visitors(self):
        application, options = mock.Mock(return_value=[b"x"]), _options(proxy=True)
        inner = socket.create_server(("127.0.0.1", 0))
        seen = {}

        def told(environ, start_response):
            seen.update(environ)
            start_response("200 OK", [("Content-Length", "1")])
            return application()

        server = waitress.server.create_server(told, sockets=[inner], **options)
        threading.Thread(target=server.run, daemon=True).start()
        self.addCleanup(server.close)
        headers = {"X-Forwarded-For": "10.0.0.7", "X-Forwarded-Proto": "https", "X-Forwarded-Host": "room.example"}
        asked = http.client.HTTPConnection(*inner.getsockname(), timeout=10)
        self.addCleanup(asked.close)
        asked.request("GET", "/", headers=headers)
        asked.getresponse().read()
        self.assertEqual((seen["wsgi.url_scheme"], seen["REMOTE_ADDR"]), ("https", "10.0.0.7"))
        self.assertEqual(seen["HTTP_HOST"], "room.example")


def _options(proxy: bool) -> dict:
    with override_settings(PROXY=proxy):
        return serve._proxied()
