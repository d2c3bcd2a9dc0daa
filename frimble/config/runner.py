"""Django's test runner, closing with one plain line of counts."""

import logging
import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.db import connections
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.db.models.signals import post_migrate
from django.test.runner import DiscoverRunner, ParallelTestSuite
from django.test.utils import override_settings
from hypothesis import HealthCheck
from hypothesis import settings as properties

# Before any test is read. A machine that stalls for a moment is no fault of what is tested.
properties.register_profile("frimble", deadline=None, suppress_health_check=[HealthCheck.too_slow])
properties.load_profile("frimble")

_QUICK_WRITES = "PRAGMA synchronous=OFF;"


def _clear_logs(name) -> None:
    """Away with what a run that was broken off left beside its databases: it would be laid over the new ones."""
    if name:
        for left in Path(name).parent.glob(f"{Path(name).stem}*-[ws][ah][lm]"):
            left.unlink()


def _telling_migrated() -> Callable[..., None]:
    """A receiver of `post_migrate`: tables that were made at once stand where the migrations lead, and are told so."""
    # Read now: while tables are made at once, no app has migrations.
    known = list(MigrationLoader(None, ignore_no_migrations=True).disk_migrations)

    def tell(sender, using, **kwargs):
        recorder = MigrationRecorder(connections[using])
        recorder.ensure_schema()
        applied = recorder.applied_migrations()
        for app, name in known:
            if app == sender.label and (app, name) not in applied:
                recorder.record_applied(app, name)

    return tell


def _own_folder(folder: Path) -> override_settings:
    """What tests upload or draw, and what the program keeps beside its database, in a folder that goes with them."""
    return override_settings(VAR_DIR=folder, MEDIA_ROOT=str(folder / "media"))


def _begin_process(*given) -> None:
    ParallelTestSuite.init_worker(*given)
    own = settings.VAR_DIR / str(os.getpid())
    own.mkdir()
    _own_folder(own).enable()


class ApartTestSuite(ParallelTestSuite):
    """Each process with a folder of its own too: a test that clears it away must not meet another's files."""

    init_worker = _begin_process


class CountingRunner(DiscoverRunner):
    """Prints `N passed, N failed, N skipped` last, after the databases are gone."""

    # Slow hashing guards real passwords; in tests it would only cost minutes.
    quick = override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
    parallel_test_suite = ApartTestSuite

    def setup_test_environment(self, **kwargs):
        super().setup_test_environment(**kwargs)
        self.quick.enable()
        self.var = tempfile.TemporaryDirectory(prefix="frimble-var-")
        self.own_folder = _own_folder(Path(self.var.name))
        self.own_folder.enable()
        self.kept = tempfile.TemporaryDirectory(prefix="frimble-kept-")
        os.environ["FRIMBLE_TEST_KEPT"] = self.kept.name
        # What one test predicted from its records is not another's.
        nothing_kept = {"default": {"BACKEND": "django.core.cache.backends.dummy.DummyCache"}}
        self.no_cache = override_settings(CACHES=nothing_kept)
        self.no_cache.enable()
        # A test that wants the log asks for it; the rest need no file and no thousand lines of writes.
        logging.getLogger("frimble").propagate = False

    def teardown_test_environment(self, **kwargs):
        self.quick.disable()
        self.no_cache.disable()
        self.own_folder.disable()
        self.var.cleanup()
        self.kept.cleanup()
        super().teardown_test_environment(**kwargs)

    def setup_databases(self, **kwargs):
        """Nobody needs a test's records after a power cut: no waiting for the disk.

        Written without a log beside it, so that the copies for parallel processes are whole; with one from then on.
        """
        for connection in connections.all():
            _clear_logs(connection.settings_dict["TEST"].get("NAME"))
            options = connection.settings_dict["OPTIONS"]
            if "init_command" in options:
                options["init_command"] = _QUICK_WRITES
        tell = _telling_migrated()
        post_migrate.connect(tell)
        set_up = super().setup_databases(**kwargs)
        post_migrate.disconnect(tell)
        for connection in connections.all():
            options = connection.settings_dict["OPTIONS"]
            if "init_command" in options:
                connection.close()
                options["init_command"] = f"PRAGMA journal_mode=WAL; {_QUICK_WRITES}"
        return set_up

    def suite_result(self, suite, result, **kwargs):
        failed = super().suite_result(suite, result, **kwargs)
        # A test whose parts fail one by one is one failed test.
        unlucky = {str(getattr(test, "test_case", test)) for test, _ in (*result.failures, *result.errors)}
        self.counts = (result.testsRun - len(unlucky) - len(result.skipped), len(unlucky), len(result.skipped))
        return failed

    def run_tests(self, test_labels, **kwargs):
        failed = super().run_tests(test_labels, **kwargs)
        passed, failures, skipped = self.counts
        print(f"{passed} passed, {failures} failed, {skipped} skipped", flush=True)
        return failed
