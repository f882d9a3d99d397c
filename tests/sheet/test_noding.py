"""Node commands on pieces, and the margins that follow."""

from sheet.document.model import Plain
from sheet.geometry.geometry import box_of, outline_of
from sheet.geometry.holes import holes

from .helpers import TableCase


class Nodes(TableCase):
    def test_moving_makes_plain_and_says_what(self):
        a = self.table.rectangle(100, 100, 200, 100)
        self.table.do("move_nodes", id=a, nodes=[0, 3], dx=-20, dy=0)
        self.assertIsInstance(self.table.item(a).shape, Plain)
        self.near(box_of(self.table.item(a)), (80, 100, 300, 200), 1e-9)
        self.table.do("move_nodes", id=a, nodes=[1], x="1in*4", y="50")
        self.near(box_of(self.table.item(a)), (80, 50, 400, 200), 1e-9)
        self.refused("No node", "move_nodes", id=a, nodes=[], dx=1)
        self.refused("no such node", "move_nodes", id=a, nodes=[44], dx=1)

    def test_lettering_becomes_plain_only_when_a_node_moves(self):
        (word,) = self.table.do("draw_lettering", text="M", font="bitter", size=200, x=50, y=300)
        before = outline_of(self.table.item(word))
        self.table.do("move_nodes", id=word, nodes=[0], dx=10, dy=0)
        self.assertIsInstance(self.table.item(word).shape, Plain)
        self.assertEqual(outline_of(self.table.item(word)).node_count, before.node_count)

    def test_handles_and_lining_up(self):
        (curve,) = self.table.do("draw_curve", d="M0 0C30 0 70 40 100 40C130 40 170 0 200 0L200 100L0 100Z")
        self.table.do("move_handle", id=curve, node=1, which="after", x=130, y=60)
        # the other handle turns along, since the node is smooth: both were as long as one another, and stay so
        d = outline_of(self.table.item(curve)).to_svg(1)
        self.assertIn("C30 0 70 20 100 40C130 60", d)
        self.table.do("move_handle", id=curve, node=1, which="before", x=70, y=10, alone=True)
        self.assertIn("C30 0 70 10 100 40C130 60", outline_of(self.table.item(curve)).to_svg(1))
        self.refused("no such node", "move_handle", id=curve, node=40, which="after", x=0, y=0)
        self.table.do("align_nodes", id=curve, nodes=[0, 1, 2], side="top")
        self.assertAlmostEqual(box_of(self.table.item(curve))[3], 100)
        x0, y0, _, _ = box_of(self.table.item(curve))
        self.assertAlmostEqual(x0, 0)
        self.assertLessEqual(y0, 0)

    def test_add_delete_round_break_join(self):
        a = self.table.rectangle(0, 0, 100, 100)
        self.table.do("add_node", id=a, x=52, y=3)
        self.assertEqual(outline_of(self.table.item(a)).node_count, 5)
        self.table.do("delete_nodes", id=a, nodes=[1])
        self.assertEqual(outline_of(self.table.item(a)).area, 10000)
        self.table.do("round_nodes", id=a, nodes=[1, 2], radius="200")
        self.assertIn("largest radius that fits", self.table.note)
        self.assertEqual(outline_of(self.table.item(a)).node_count, 5)
        self.table.do("break_node", id=a, nodes=[0])
        self.assertFalse(outline_of(self.table.item(a)).is_closed)
        self.table.do("join_nodes", id=a, nodes=[])
        self.assertTrue(outline_of(self.table.item(a)).is_closed)
        self.refused("Two ends", "join_nodes", id=a, nodes=[])

    def test_kinds_and_segments(self):
        a = self.table.rectangle(0, 0, 100, 100)
        self.table.do("set_nodes", id=a, nodes=[1], kind="smooth")
        self.assertGreater(outline_of(self.table.item(a)).area, 10000)
        self.table.do("set_nodes", id=a, nodes=[0, 1, 2], kind="line")
        self.assertEqual(outline_of(self.table.item(a)).area, 10000)

    def test_an_outline_with_a_cut_list_says_what_to_do(self):
        a, b = self.table.rectangle(0, 0, 100, 100), self.table.rectangle(50, 50, 100, 100)
        (made,) = self.table.do("combine", ids=[a, b], operation="union")
        self.refused("cut list", "move_nodes", id=made, nodes=[0], dx=1)

    def test_two_nodes_of_a_hole_even_out_a_margin(self):
        a, b = self.table.rectangle(0, 0, 100, 100), self.table.rectangle(10, 20, 60, 60)
        (made,) = self.table.do("combine", ids=[a, b], operation="subtract")
        self.table.do("make_plain", id=made)
        ((m, _),) = holes(self.table.item(made))
        self.assertEqual((m.left, m.right), (10, 30))
        spots = [n.at for n in self.all_nodes(made)]
        right = [k for k, (x, y) in enumerate(spots) if x == 70]
        self.table.do("move_nodes", id=made, nodes=right, dx=20)
        ((m, _),) = holes(self.table.item(made))
        self.assertEqual((m.left, m.right), (10, 10))

    def all_nodes(self, item_id):
        from outline.curves import nodes

        return [n for run in nodes.runs(outline_of(self.table.item(item_id))) for n in run.nodes]
