"""Results cached by their arguments."""

import unittest

from sheet import caching
from sheet.caching import Results


class Remembered(unittest.TestCase):
    def setUp(self):
        self.asked: list[str] = []
        self.results = Results(10, len)

    def get(self, what: str, answer: str) -> str:
        def work_out() -> str:
            self.asked.append(what)
            return answer

        return self.results.get(what, work_out)

    def test_what_was_asked_is_not_worked_out_again(self):
        self.assertEqual([self.get("a", "1234"), self.get("a", "other")], ["1234", "1234"])
        self.assertEqual(self.asked, ["a"])

    def test_the_last_used_stay_within_the_bytes(self):
        self.get("a", "1234")
        self.get("b", "1234")
        self.get("a", "")
        self.get("c", "1234")
        self.get("a", "")
        self.assertEqual(self.asked, ["a", "b", "c"])
        self.get("b", "1234")
        self.assertEqual(self.asked, ["a", "b", "c", "b"])

    def test_what_is_larger_than_all_is_answered_and_not_kept(self):
        self.assertEqual(self.get("a", "x" * 50), "x" * 50)
        self.get("a", "x" * 50)
        self.assertEqual(self.asked, ["a", "a"])

    def test_what_fails_is_asked_again(self):
        def fail() -> str:
            raise ValueError("no")

        with self.assertRaises(ValueError):
            self.results.get("a", fail)
        self.assertEqual(self.get("a", "1"), "1")

    def test_all_are_cleared_together(self):
        self.get("a", "1234")
        caching.clear()
        self.get("a", "1234")
        self.assertEqual(self.asked, ["a", "a"])
