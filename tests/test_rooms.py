"""The structure of the code: no circle of files, anywhere (`make lint` checks the order of the rooms)."""

import unittest

import grimp
import networkx


class Rooms(unittest.TestCase):
    def test_no_file_imports_itself_by_way_of_others(self):
        graph = grimp.build_graph("outline", "sheet", "picture", "studio")
        files = networkx.DiGraph()
        for module in graph.modules:
            files.add_edges_from((module, other) for other in graph.find_modules_directly_imported_by(module))
        self.assertGreater(files.number_of_edges(), 1000)
        circles = [sorted(part) for part in networkx.strongly_connected_components(files) if len(part) > 1]
        self.assertEqual(circles, [])
