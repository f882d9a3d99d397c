"""A long history is small, its head is whole, and every step of it can be read."""

import math
import random
import zlib

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.models import F
from django.test import TransactionTestCase
from django.test.utils import CaptureQueriesContext

from sheet import apply, dump, load, new_sheet
from sheet.document import store
from studio.history import changes, deltas
from studio.models import PhotoUse, Project, Revision

from .helpers import StudioCase


def stored(project: Project) -> int:
    """Return the bytes that the revisions of a project take."""
    rows = Revision.objects.filter(project=project).values_list("data", "step")
    return sum(len(data or b"") + len(step or b"") for data, step in rows)


class Long(StudioCase):
    def moved(self, sheet, steps=420):
        """Make a project of a sheet and move one piece after another; return the sheets."""
        hand = random.Random(14)
        self.project = changes.start(self.user, "Long", sheet)
        sheets = [sheet]
        for k in range(steps):
            by = [1, 0, 0, 1, hand.uniform(-9, 9), hand.uniform(-9, 9)]
            args = {"ids": [hand.choice(sheet.items).id], "matrix": by}
            changes.run(self.user, self.project.pk, f"m{k}", "transform", args, k + 1)
            sheets.append(apply(sheets[-1], "transform", args).sheet)
        return sheets

    def check(self, sheets):
        """Hold the size of the history, and its steps, against what was done."""
        self.assertLessEqual(stored(self.project) / len(sheets), 1500)
        found = {r.number: r for r in Revision.objects.filter(project=self.project)}
        for number in (1, 2, 7, 150, 200, 201, 202, 203, 399, len(sheets)):
            self.assertEqual(found[number].sheet, sheets[number - 1], number)
        whole = [n for n, r in found.items() if r.data is not None]
        self.assertLess(len(whole), 6)
        self.assertIn(len(sheets), whole)

    def test_a_year_of_plain_pieces(self):
        sheet = new_sheet(2000, 2000, "px", 300)
        for k in range(300):
            place = {"x": 90 * (k % 20), "y": 120 * (k // 20), "width": 50.5, "height": 60.25}
            sheet = apply(sheet, "draw", {"kind": ("rectangle", "ellipse", "star")[k % 3], **place}).sheet
        self.check(self.moved(sheet))
        # the head is read by itself
        with CaptureQueriesContext(connection) as asked:
            self.fresh().head.sheet  # noqa: B018
        self.assertEqual(len(asked), 1)

    def test_a_year_of_freehand_pieces(self):
        hand = random.Random(3)
        sheet = new_sheet(2000, 2000, "px", 300)
        for k in range(300):
            x, y = 90 * (k % 20), 120 * (k // 20)
            points = [(x + 3 * t, y + 40 * math.sin(t / 5) + hand.gauss(0, 1)) for t in range(60)]
            sheet = apply(sheet, "draw_freehand", {"points": points, "tolerance": 0.5}).sheet
        self.check(self.moved(sheet))

    def test_back_and_forth_loses_nothing(self):
        sheets = self.moved(
            apply(new_sheet(100, 100), "draw", {"kind": "star", "x": 1, "y": 1, "width": 9, "height": 9}).sheet, 30
        )
        hand = random.Random(5)
        at = 31
        for _ in range(120):
            name = hand.choice(("undo", "undo", "redo"))
            answer = self.send(name)
            at += {422: 0, 200: -1 if name == "undo" else 1}[answer.status_code]
            self.assertEqual(self.fresh().head.sheet, sheets[at - 1])
        whole = Revision.objects.filter(project=self.project, data__isnull=False).exclude(key=F("number"))
        self.assertLessEqual(whole.count(), 1)

    def test_a_history_that_an_earlier_gouge_kept_as_json_goes_on(self):
        sheet = new_sheet(2000, 2000, "px", 300)
        for k in range(30):
            points = [(60 * k + 3 * t, 40 * math.sin(t / 5)) for t in range(50)]
            sheet = apply(sheet, "draw_freehand", {"points": points, "tolerance": 0.5}).sheet
        before = self.moved(sheet, 12)
        # as they were stored then: JSON in zlib, and steps between such texts
        texts = [store.as_json(each) for each in before]
        for revision in Revision.objects.filter(project=self.project):
            text = texts[revision.number - 1]
            if revision.data is not None:
                revision.data = zlib.compress(text)
            if revision.step is not None:
                revision.step = deltas.step(texts[revision.number - 2], text)
            revision.save()
        sheets = list(before)
        for k in range(12):
            args = {"ids": [sheet.items[k].id], "matrix": [1, 0, 0, 1, k + 0.5, 3]}
            changes.run(self.user, self.project.pk, f"n{k}", "transform", args, 13 + k)
            sheets.append(apply(sheets[-1], "transform", args).sheet)
        self.assertFalse(store.unfolded(bytes(self.fresh().head.data)).startswith(b"{"))
        for revision in Revision.objects.filter(project=self.project):
            self.assertEqual(revision.sheet, sheets[revision.number - 1], revision.number)
        # and back beyond where the form changes, by steps and at once
        for _ in range(14):
            changes.undo(self.user, self.project.pk, revision=self.fresh().head.number, command_id="")
        self.assertEqual((self.fresh().head.number, self.fresh().head.sheet), (11, sheets[10]))
        changes.go_back(self.user, self.project.pk, Revision.objects.get(project=self.project, number=25))
        self.assertEqual(self.fresh().head.sheet, sheets[24])

    def test_a_damaged_step_takes_nothing_else_with_it(self):
        sheets = self.moved(
            apply(new_sheet(100, 100), "draw", {"kind": "star", "x": 1, "y": 1, "width": 9, "height": 9}).sheet, 9
        )
        Revision.objects.filter(project=self.project, number=6).update(step=b"rust")
        self.send("undo", revision=10)
        # the head was whole, and stays so, since nothing leads to it any more
        self.assertEqual(Revision.objects.get(project=self.project, number=10).sheet, sheets[9])

    def test_a_damaged_head_is_put_together_from_its_steps(self):
        a = self.draw()
        self.draw(x=300)
        Revision.objects.filter(project=self.project, number=3).update(data=b"rust")
        self.assertEqual(len(self.fresh().head.sheet.items), 2)
        self.assertEqual(self.send("remove", {"ids": [a]}).status_code, 200)
        self.assertEqual(len(self.fresh().head.sheet.items), 1)

    def test_photos_that_a_step_uses_are_noted_once(self):
        photo = self.place()
        self.send("remove", {"ids": [photo]})
        self.send("undo")
        self.assertEqual(PhotoUse.objects.filter(project=self.project).count(), 1)
        self.place(color=(1, 2, 3))
        self.assertEqual(PhotoUse.objects.filter(project=self.project).count(), 2)


class Migrated(TransactionTestCase):
    """A history of before, with each revision whole, is kept as what changed; nothing is lost."""

    def setUp(self):
        self.executor = MigrationExecutor(connection)
        self.addCleanup(lambda: MigrationExecutor(connection).migrate([("studio", "0007_what_changed")]))

    def test_nothing_is_lost(self):
        self.executor.migrate([("studio", "0005_shelf_and_runs")])
        old = self.executor.loader.project_state([("studio", "0005_shelf_and_runs")]).apps
        user = old.get_model("auth", "User").objects.create(username="ada")
        project = old.get_model("studio", "Project").objects.create(owner=user, name="Old", made=120)
        revision = old.get_model("studio", "Revision").objects
        sheet, sheets, made = new_sheet(900, 900), [], []
        for k in range(120):
            sheet = apply(sheet, "draw", {"kind": "ellipse", "x": k, "y": 2 * k, "width": 30, "height": 20}).sheet
            sheets.append(sheet)
            # from 80 on another branch, as after an undo
            parent = made[49] if k == 80 else made[-1] if made else None
            data = b"rust" if k == 60 else dump(sheet)
            made.append(revision.create(project=project, number=k + 1, parent=parent, label=f"d{k}", data=data))
        project.head = made[-1]
        project.save()
        before = sum(len(r.data) for r in made)
        MigrationExecutor(connection).migrate([("studio", "0007_what_changed")])
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes("studio"))
        now = Project.objects.get(pk=project.pk)
        self.assertLess(stored(now), before / 2)
        self.assertIsNotNone(now.head.data)
        for one in Revision.objects.filter(project=now):
            if one.number == 61:
                self.assertEqual(bytes(one.data), b"rust")
            else:
                self.assertEqual(one.sheet, sheets[one.number - 1], one.number)
        self.assertEqual(load(bytes(now.head.data)), sheets[-1])
        # and back
        MigrationExecutor(connection).migrate([("studio", "0006_steps")])
        self.assertFalse(Revision.objects.filter(data=None).exists())
