"""Django's test runner, closing with one plain line of counts."""

import time
import unittest
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.test import SimpleTestCase, TestCase
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner


class _Timed:
    """Reports how long each test took (unittest does so itself from Python 3.12 on)."""

    def startTest(self, test):
        self.began = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test):
        self.addDuration(test, time.perf_counter() - self.began)
        super().stopTest(test)


class _TimedRemote(_Timed, RemoteTestResult):
    """Results that a worker process sends to the main one."""

    def addDuration(self, test, elapsed):
        # Django's own asks unittest first, which knows no such thing before Python 3.12
        self.events.append(("addDuration", self.test_index, elapsed))


class _TimedRunner(RemoteTestRunner):
    resultclass = _TimedRemote


class _TimedSuite(ParallelTestSuite):
    runner_class = _TimedRunner


class _Result(_Timed, unittest.TextTestResult):
    """Keeps the longest time reported for each test: in parallel, the main process reports one too."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.seconds: dict[str, float] = {}

    def addDuration(self, test, elapsed):
        self.seconds[test.id()] = max(elapsed, self.seconds.get(test.id(), 0.0))


class Runner(DiscoverRunner):
    """Hashes passwords cheaply, runs in parallel on SQLite, and prints one line of counts and the slowest tests."""

    parallel_test_suite = _TimedSuite

    def __init__(self, *args, durations=0, **kwargs):
        super().__init__(*args, **kwargs)
        self.durations = durations

    @classmethod
    def add_arguments(cls, parser):
        """Add the option for how many of the slowest tests are printed."""
        super().add_arguments(parser)
        parser.add_argument("--durations", type=int, default=0, metavar="N", help="Print the N slowest tests.")

    def get_resultclass(self):
        """Return the class that counts and times, unless a debugger is asked for."""
        return super().get_resultclass() or _Result

    def setup_test_environment(self, **kwargs):
        """Hash passwords cheaply: tests make many accounts and guard nothing."""
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
        # nothing was collected: files have their plain names
        plain = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
        settings.STORAGES = {**settings.STORAGES, "staticfiles": plain}
        settings.WHITENOISE_USE_FINDERS = True
        # the cores are shared with other tests: what a person waits for at most is not what is tested
        settings.GOUGE_SECONDS = 150
        super().setup_test_environment(**kwargs)

    def setup_databases(self, **kwargs):
        """Clone the database only once its log is written back: a clone is a copy of the file alone."""
        # the log of a run that was killed would be taken for that of the new database
        name = Path(settings.DATABASES["default"]["TEST"]["NAME"])
        for left in (*name.parent.glob(f"{name.stem}*-wal"), *name.parent.glob(f"{name.stem}*-shm")):
            left.unlink()
        processes, self.parallel = self.parallel, 1
        made = super().setup_databases(**kwargs)
        self.parallel = processes
        if processes > 1:
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            for number in range(1, processes + 1):
                connection.creation.clone_test_db(suffix=str(number), verbosity=self.verbosity, keepdb=self.keepdb)
        return made

    def build_suite(self, test_labels=None, **kwargs):
        """Return the suite, all tests if none are named; in parallel the long ones come first.

        A long one at the end would leave the other cores idle. Classes that
        use the database stay in Django's order: those that roll it back before those that empty it.
        """
        suite = super().build_suite(test_labels or ["tests"], **kwargs)
        if isinstance(suite, self.parallel_test_suite):
            suite.subsuites.sort(key=_turn)
        return suite

    def run_suite(self, suite: unittest.TestSuite, **kwargs):
        """Run it and print the counts."""
        result = super().run_suite(suite, **kwargs)
        bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        longest = sorted(getattr(result, "seconds", {}).items(), key=lambda one: -one[1])
        for name, seconds in longest[: self.durations]:
            print(f"{seconds:7.2f} s  {name}")
        print(f"{result.testsRun - bad - skipped} passed, {bad} failed, {skipped} skipped")
        return result


def _turn(suite: unittest.TestSuite) -> tuple[int, bool, int]:
    """Return the sort key of a class's tests."""
    test = next(iter(suite))
    group = 0 if not isinstance(test, SimpleTestCase) else 1 if isinstance(test, TestCase) else 2
    return group, not getattr(test, "long", False), -suite.countTestCases()
