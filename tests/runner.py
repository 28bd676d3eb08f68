"""Django's runner in parallel processes, ending with a plain count of what it ran."""

import os
import unittest
import warnings

from django.conf import settings
from django.db import connection
from django.db.backends.sqlite3.creation import DatabaseCreation
from django.test import runner as django_runner
from django.test.runner import DiscoverRunner, ParallelTestSuite

from pneumen.web import kept_rows

_version = kept_rows.version


def _own_folders(*arguments):
    """Start a worker process: with Django's own database for it, and folders for audio that no other one empties."""
    django_runner._init_worker(*arguments)
    data = settings.DATA / f"worker-{django_runner._worker_id}"
    for name in ("AUDIO", "INCOMING", "PUT_AWAY", "LIVE", "PACKAGES"):
        folder = data / name.lower()
        folder.mkdir(parents=True, exist_ok=True)
        setattr(settings, name, folder)
    settings.FILE_UPLOAD_TEMP_DIR = settings.INCOMING
    as_outside_tests()


def as_outside_tests():
    """Have warnings seen, and what is read kept within the transactions that Django puts round tests."""
    from tests.known import work_out_once  # once Django has its settings

    warnings.simplefilter("error")
    warnings.filterwarnings("ignore", category=ResourceWarning)  # Django closes its files on its own time
    kept_rows.may_be_taken_back = _in_a_transaction_of_its_own
    kept_rows.version = _version_in_this_test
    work_out_once()


def _in_a_transaction_of_its_own():
    return not all(block._from_testcase for block in connection.atomic_blocks)


def _version_in_this_test():
    # The end of a test takes back what it changed, which counts as no change: the next one has other blocks.
    return *_version(), tuple(connection.atomic_blocks)


def _cloned_whole(clone):
    """Have the write-ahead log written into the database before it is copied for another process."""

    def cloned(self, suffix, verbosity, keepdb=False):
        with self.connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        return clone(self, suffix, verbosity, keepdb=keepdb)

    return cloned


# Django's own and private, so that the stubs leave it out.
DatabaseCreation._clone_test_db = _cloned_whole(DatabaseCreation._clone_test_db)  # type: ignore[attr-defined]


class OwnFolders(ParallelTestSuite):
    init_worker = _own_folders


class CountingResult(unittest.TextTestResult):
    """Counts the tests that passed, one by one; a failed subtest fails its test."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.passed = 0

    def addSuccess(self, test):
        super().addSuccess(test)
        self.passed += 1


class CountingRunner(DiscoverRunner):
    parallel_test_suite = OwnFolders

    def get_resultclass(self):
        return CountingResult

    def run_suite(self, suite, **kwargs):
        as_outside_tests()
        result = super().run_suite(suite, **kwargs)
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        print(f"\n{result.passed} passed, {failed} failed, {len(result.skipped)} skipped", flush=True)
        return result


def processes():
    """Return how many test processes to run: one more than there are cores, for those with a browser wait a lot."""
    return (os.cpu_count() or 1) + 1
