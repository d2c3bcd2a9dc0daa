"""The command behind `make demo`."""

import io
from unittest import mock

from django.core.management import call_command
from django.test import TestCase

from frimble.demo import loader
from frimble.server import health


class ServeTests(TestCase):
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
