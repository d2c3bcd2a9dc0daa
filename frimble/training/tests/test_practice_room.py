"""The practice room's command and its door: its own folder, the shop's people, and nothing of the shop's records."""

import io
import json
import os
from pathlib import Path
from unittest import mock

from django.core.management import call_command

from frimble.people.models import Person
from frimble.screens.models import Screen
from frimble.testing.case import PageCase, own_data_folder
from frimble.testing.shop import small_shop
from frimble.training import practice

_RUN = "frimble.training.management.commands.practice_room.subprocess.run"


class PracticeRoomTests(PageCase):
    def setUp(self):
        self.folder = own_data_folder(self)
        self.people = small_shop()
        Person.objects.create_user("tablet", role="station")

    def test_it_makes_its_own_shop_takes_the_people_along_and_serves(self):
        out = io.StringIO()
        with mock.patch(_RUN) as ran:
            call_command("practice_room", "--port", "8777", stdout=out)
        asked = [call.args[0][2:] for call in ran.call_args_list]
        self.assertEqual(
            asked,
            [["migrate", "--verbosity", "0"], ["load_scenario"], ["practice_room", "--take-people"],
             ["serve", "--port", "8777"]],
        )  # fmt: skip
        for call in ran.call_args_list:
            self.assertEqual(call.kwargs["env"]["FRIMBLE_VAR"], str(self.folder / "practice"))
            self.assertEqual(call.kwargs["env"]["FRIMBLE_PRACTICE"], "1")
            self.assertNotIn("DATABASE_URL", call.kwargs["env"])
        sent = json.loads(ran.call_args_list[2].kwargs["input"])
        self.assertEqual({row["username"] for row in sent}, set(self.people))
        self.assertIn("Nothing recorded there", out.getvalue())

    def test_its_folder_is_its_owners_alone(self):
        with mock.patch(_RUN):
            call_command("practice_room", stdout=io.StringIO())
        # Source: POSIX: 0700 lets nobody else in.
        self.assertEqual(Path(self.folder / "practice").stat().st_mode & 0o777, 0o700)

    def test_people_who_come_along_may_record_whatever_their_role_here(self):
        rows = [{"username": "wim", "password": "hash", "first_name": "Wim", "is_active": True},
                {"username": "odile", "password": "other", "first_name": "Odile", "is_active": True}]  # fmt: skip
        with mock.patch("sys.stdin", io.StringIO(json.dumps(rows))):
            call_command("practice_room", "--take-people")
        self.assertEqual(Person.objects.get(username="wim").role, Person.Role.TECHNICIAN)
        self.assertEqual(Person.objects.get(username="odile").password, "other")
        self.assertTrue(Screen.objects.exists())

    def test_its_address_is_told_only_while_it_runs(self):
        self.assertEqual(practice.address("127.0.0.1"), "")
        practice.folder().mkdir()
        practice.say_it_runs(8777)
        self.assertEqual(practice.address("127.0.0.1"), "http://127.0.0.1:8777/")
        self.client.force_login(self.people["odile"])
        self.assertContains(self.client.get("/training/"), ":8777/")
        (practice.folder() / "runs.json").write_text("half of it")
        self.assertEqual(practice.address("127.0.0.1"), "")

    def test_a_room_whose_process_is_gone_has_no_address(self):
        practice.folder().mkdir()
        with mock.patch("os.getpid", return_value=2**22 + 1):
            practice.say_it_runs(8777)
        with mock.patch("os.kill", side_effect=ProcessLookupError) as asked:
            self.assertEqual(practice.address("127.0.0.1"), "")
        # Source: kill(2): signal 0 only asks whether a process is there.
        asked.assert_called_once_with(2**22 + 1, 0)
        self.assertNotEqual(os.getpid(), 2**22 + 1)
