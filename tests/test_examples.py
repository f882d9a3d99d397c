"""The examples in the docstrings of the packages without interface code, and in the page on using `outline`."""

import doctest
import importlib
import pkgutil
import unittest
from pathlib import Path


class Examples(unittest.TestCase):
    def check(self, package: str, least: int) -> None:
        tried = 0
        for info in pkgutil.walk_packages(importlib.import_module(package).__path__, f"{package}."):
            if info.name.endswith("__main__"):
                continue
            with self.subTest(info.name):
                failed, count = doctest.testmod(importlib.import_module(info.name))
                self.assertEqual(failed, 0)
                tried += count
        self.assertGreaterEqual(tried, least)

    def test_outline(self):
        self.check("outline", 30)

    def test_sheet(self):
        self.check("sheet", 10)

    def test_the_page_on_using_outline(self):
        page = Path(__file__).resolve().parents[1] / "docs" / "outline.md"
        failed, count = doctest.testfile(str(page), module_relative=False, optionflags=doctest.ELLIPSIS)
        self.assertEqual(failed, 0)
        self.assertGreaterEqual(count, 30)

    def test_picture(self):
        self.check("picture", 1)
