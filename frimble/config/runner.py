"""Django's test runner, closing with one plain line of counts."""

from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    """Prints `N passed, N failed, N skipped` last, after the databases are gone."""

    def suite_result(self, suite, result, **kwargs):
        failed = super().suite_result(suite, result, **kwargs)
        self.counts = (result.testsRun - failed - len(result.skipped), failed, len(result.skipped))
        return failed

    def run_tests(self, test_labels, **kwargs):
        failed = super().run_tests(test_labels, **kwargs)
        passed, failures, skipped = self.counts
        print(f"{passed} passed, {failures} failed, {skipped} skipped", flush=True)
        return failed
