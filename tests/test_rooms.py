"""The structure of the code: no circle of files, anywhere (`make lint` checks the order of the rooms)."""

import ast
import unittest
from pathlib import Path

import grimp
import networkx

DJANGOS = {"migrations", "management", "templatetags"}
"""Folders that Django itself looks into."""


class Rooms(unittest.TestCase):
    def test_no_file_imports_itself_by_way_of_others(self):
        graph = grimp.build_graph("outline", "sheet", "picture", "studio")
        files = networkx.DiGraph()
        for module in graph.modules:
            files.add_edges_from((module, other) for other in graph.find_modules_directly_imported_by(module))
        self.assertGreater(files.number_of_edges(), 1000)
        circles = [sorted(part) for part in networkx.strongly_connected_components(files) if len(part) > 1]
        self.assertEqual(circles, [])

    def test_each_room_says_what_is_in_it_and_names_it(self):
        root = Path(__file__).resolve().parent.parent
        rooms = [p for name in ("outline", "sheet", "picture", "studio") for p in (root / name).rglob("__init__.py")]
        rooms = [p for p in rooms if not DJANGOS & set(p.parts) and p.parent != root / "studio"]
        self.assertGreater(len(rooms), 25)
        for init in rooms:
            with self.subTest(str(init.parent.relative_to(root))):
                tree = ast.parse(init.read_text())
                self.assertTrue(ast.get_docstring(tree))
                (names,) = [n.value for n in tree.body if isinstance(n, ast.Assign) and n.targets[0].id == "__all__"]
                named = set(ast.literal_eval(names))
                self.assertTrue(named)
                if not any(isinstance(n, ast.ImportFrom) for n in tree.body):
                    files = {p.stem for p in init.parent.glob("*.py") if not p.stem.startswith("_")}
                    rooms_in = {p.parent.name for p in init.parent.glob("*/__init__.py")}
                    self.assertEqual(named, files | rooms_in)
