"""Django's runner, ending with a plain count of what it ran."""

import unittest
import warnings

from django.test.runner import DiscoverRunner


class CountingResult(unittest.TextTestResult):
    """Counts the tests that passed, one by one; a failed subtest fails its test."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.passed = 0

    def addSuccess(self, test):
        super().addSuccess(test)
        self.passed += 1


class CountingRunner(DiscoverRunner):
    def get_resultclass(self):
        return CountingResult

    def run_suite(self, suite, **kwargs):
        warnings.simplefilter("error")
        warnings.filterwarnings("ignore", category=ResourceWarning)  # Django closes its files on its own time
        result = super().run_suite(suite, **kwargs)
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        print(f"\n{result.passed} passed, {failed} failed, {len(result.skipped)} skipped", flush=True)
        return result
