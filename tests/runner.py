"""Django's runner, ending with a plain count of what it ran."""

import warnings

from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    def run_suite(self, suite, **kwargs):
        warnings.simplefilter("error")
        warnings.filterwarnings("ignore", category=ResourceWarning)  # Django closes its files on its own time
        result = super().run_suite(suite, **kwargs)
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        print(f"\n{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped", flush=True)
        return result
