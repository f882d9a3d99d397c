"""The shelf: kept, drawn in any project, changed, its variants, sent and received."""

import io
import json

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

import outline
from sheet.geometry.geometry import box_of, outline_of
from studio.library import shelf
from studio.models import PhotoFile, Project, ShelfItem, ShelfVersion

from .helpers import StudioCase


class ShelfCase(StudioCase):
    def card(self):
        """A card of 600 by 400 px with a hole in its corner."""
        base = self.send(
            "draw", {"kind": "rectangle", "x": 100, "y": 100, "width": 600, "height": 400, "details": {"radius": "40"}}
        ).json()["chosen"][0]
        hole = self.draw("ellipse", 600, 130, 60, 60)
        return self.send("combine", {"ids": [base, hole], "operation": "subtract"}).json()["chosen"][0]

    def keep(self, item, client=None, **told):
        body = {"id": item, "revision": self.fresh().head.number, **told}
        url = f"/p/{self.project.pk}/shelf"
        return (client or self.client).post(url, json.dumps(body), content_type="application/json")

    def kept(self, **told):
        """Keep the card and mark it, as the page does; return its number on the shelf."""
        item = self.card()
        answer = self.keep(item, name="Card", **told).json()
        self.send("link_shelf", {"id": item, "item": answer["item"]})
        return item, ShelfItem.objects.get(key=answer["item"]).pk

    def key(self, pk):
        return ShelfItem.objects.get(pk=pk).key

    def item(self, item_id):
        return next(i for i in self.fresh().head.sheet.items if i.id == item_id)

    def sizes(self, pk):
        """The size of the newest version of each variant."""
        out = {}
        for v in ShelfVersion.objects.filter(item=pk).order_by("number"):
            out[v.variant] = tuple(round(n, 6) for n in (v.sheet.width, v.sheet.height))
        return out


class Keeping(ShelfCase):
    def test_kept_with_its_name_and_tags_it_is_drawn_in_another_project(self):
        _, pk = self.kept(tags="summer cover")
        one = ShelfItem.objects.get()
        self.assertEqual((one.pk, one.name, one.tags, one.made), (pk, "Card", "summer cover", 1))
        page = self.client.get("/shelf/tiles").content.decode()
        self.assertIn(f'id="ready-shelf-{self.key(pk)}-"', page)
        self.assertIn("card summer cover landscape shelf", page)
        answer = self.send("draw_shelved", {"item": self.key(pk), "x": 0, "y": 0, "width": 300, "height": 200})
        self.assertEqual(answer.status_code, 200, answer.content)
        made = self.item(answer.json()["chosen"][0])
        self.assertEqual(box_of(made), (0, 0, 300, 200))
        self.assertEqual(made.shape.base.shape.radii, (20, 20, 20, 20))
        picture = self.client.get(f"/shelf/{pk}/picture.png?variant=&v=1")
        self.assertEqual(picture["Content-Type"], "image/png")

    def test_nobody_else_sees_it(self):
        _, pk = self.kept()
        self.client.force_login(self.other)
        self.assertNotIn("Card", self.client.get("/shelf").content.decode())
        for path in ("picture.png", "file"):
            self.assertEqual(self.client.get(f"/shelf/{pk}/{path}").status_code, 404)
        for path in ("open", "by-hand/square", "rename", "variants", "independent", "drop", "restore"):
            self.assertEqual(self.client.post(f"/shelf/{pk}/{path}").status_code, 404)
        with self.assertRaisesRegex(Exception, "no longer on the shelf"):
            shelf.shelved(self.other, self.key(pk), "")
        self.client.logout()
        for path in ("/shelf", "/shelf/tiles", f"/shelf/{pk}/file"):
            self.assertEqual(self.client.get(path).status_code, 302)

    def test_refused(self):
        photo = self.place()
        answer = self.keep(photo)
        self.assertEqual((answer.status_code, ShelfItem.objects.count()), (422, 0))
        self.assertIn("is a photo", answer.json()["error"])
        self.assertEqual(self.keep("i999").status_code, 422)
        self.assertEqual(self.keep("nothing").status_code, 400)
        self.assertEqual(self.keep(self.card(), of="9" * 32).status_code, 422)
        self.assertEqual(self.keep(self.card(), variant="round").status_code, 400)
        body = {"id": photo, "revision": 1}
        answer = self.client.post(f"/p/{self.project.pk}/shelf", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 409)

    def test_taken_off_and_put_back(self):
        item, pk = self.kept()
        self.client.post(f"/shelf/{pk}/drop")
        self.assertNotIn("ready-shelf", self.client.get("/shelf/tiles").content.decode())
        # projects that use it keep theirs
        self.assertEqual(self.item(item).shelf_link.item, self.key(pk))
        answer = self.send("draw_shelved", {"item": self.key(pk), "x": 0, "y": 0, "width": 3, "height": 2})
        self.assertIn("no longer on the shelf", answer.json()["error"])
        self.client.post(f"/shelf/{pk}/restore")
        self.assertIn("ready-shelf", self.client.get("/shelf/tiles").content.decode())

    def test_renamed(self):
        _, pk = self.kept()
        self.client.post(f"/shelf/{pk}/rename", {"name": "Boarding\x00 card", "tags": "ferry"})
        one = ShelfItem.objects.get()
        self.assertEqual((one.name, one.tags), ("Boarding card", "ferry"))


class Versions(ShelfCase):
    def changed(self, pk, variant=""):
        """Open what is kept as a project, add a disc to it, and keep it as a new version."""
        answer = self.client.post(f"/shelf/{pk}/open", {"variant": variant})
        mine, self.project = self.project, Project.objects.get(pk=int(answer["Location"].split("/")[2]))
        (item,) = self.fresh().head.sheet.items
        x0, y0, x1, y1 = box_of(item)
        disc = self.draw("ellipse", x1 - 20, (y0 + y1) / 2 - 20, 40, 40)
        made = self.send("combine", {"ids": [item.id, disc], "operation": "union"}).json()["chosen"][0]
        told = self.keep(made, of=self.key(pk), variant=variant).json()
        self.assertNotIn("error", told)
        self.project = mine
        return told

    def test_a_newer_one_is_marked_and_taken_over_by_one_press(self):
        item, pk = self.kept()
        stack = self.ask_panels(chosen=[item])["shelf_link"]
        self.assertIn("version 1", stack)
        self.assertNotIn("take-over", stack)
        self.assertEqual(self.changed(pk)["version"], 2)
        panels = self.ask_panels(chosen=[item])
        self.assertIn("Update to version 2", panels["shelf_link"])
        page = self.client.get(f"/p/{self.project.pk}/").content.decode()
        self.assertIn('class="newer"', page)
        self.send("take_over", {"ids": [item]})
        self.assertEqual([round(v) for v in box_of(self.item(item))], [100, 100, 720, 500])
        self.assertNotIn('class="newer"', self.client.get(f"/p/{self.project.pk}/").content.decode())
        self.send("undo")
        self.assertEqual(self.item(item).shelf_link.version, 1)

    def test_variants_by_one_press_follow_until_they_are_independent(self):
        _, pk = self.kept()
        self.client.post(f"/shelf/{pk}/variants")
        self.assertEqual(self.sizes(pk), {"": (600, 400), "square": (400, 400), "portrait": (400, 600)})
        # the hole keeps its form and its margins in each
        for v in ShelfVersion.objects.filter(item=pk):
            hole = v.sheet.items[0].shape.steps[0].member
            x0, y0, x1, y1 = box_of(hole)
            for got, want in zip((v.sheet.width - x1, y0, x1 - x0, y1 - y0), (40, 30, 60, 60), strict=True):
                self.assertAlmostEqual(got, want, delta=1e-9)
        self.changed(pk)
        self.assertEqual(self.sizes(pk), {"": (620, 400), "square": (400, 400), "portrait": (400, 620)})
        self.client.post(f"/shelf/{pk}/independent", {"variant": "portrait"})
        self.changed(pk)
        self.assertEqual(self.sizes(pk)["portrait"], (400, 620))
        self.assertEqual(self.sizes(pk)[""], (640, 400))

    def test_what_it_would_be_in_a_box_is_drawn_while_a_hand_draws_it(self):
        _, pk = self.kept()
        at = f"/p/{self.project.pk}/refit/shelved?item={self.key(pk)}&variant=&width=%s&height=%s"
        d = self.client.get(at % (300, 100)).json()["d"]
        self.assertEqual(outline.Path.from_svg(d).bounds, (0, 0, 300, 100))
        for wrong in ((0, 100), (-5, 1), ("nan", 5), ("x", 5), (1e12, 5)):
            self.assertEqual(self.client.get(at % wrong).status_code, 400)
        self.client.force_login(self.other)
        self.assertEqual(self.client.get(at % (300, 100)).status_code, 404)

    def test_a_variant_that_cannot_be_made_is_said_with_a_way_to_make_it_by_hand(self):
        base = self.draw("rectangle", 100, 100, 700, 200)
        word = self.send(
            "draw_lettering", {"text": "MARRAM COAST FERRY", "font": "league-gothic", "size": "120", "x": 130, "y": 250}
        ).json()["chosen"][0]
        item = self.send("combine", {"ids": [base, word], "operation": "subtract"}).json()["chosen"][0]
        self.assertEqual(self.keep(item).status_code, 200)
        pk = ShelfItem.objects.latest("pk").pk
        page = self.client.post(f"/shelf/{pk}/variants", follow=True).content.decode()
        self.assertIn("A portrait of “", page)
        self.assertIn("“Lettering 1” would not fit", page)
        self.assertIn(f'action="/shelf/{pk}/by-hand/portrait"', page)
        answer = self.client.post(f"/shelf/{pk}/by-hand/portrait")
        self.assertRegex(answer["Location"], r"^/p/\d+/\?refit=200x700$")
        made = Project.objects.latest("pk").head.sheet.items[0]
        self.assertEqual((made.shelf_link.variant, made.shelf_link.version), ("portrait", 1))
        self.assertEqual(self.client.post(f"/shelf/{pk}/by-hand/round")["Location"], "/shelf")

    def test_a_variant_that_is_changed_by_itself_follows_no_more(self):
        _, pk = self.kept()
        self.client.post(f"/shelf/{pk}/variants")
        told = self.changed(pk, "square")
        self.assertEqual((told["version"], told["variant"]), (2, "square"))
        self.assertEqual(self.sizes(pk)["square"], (420, 400))
        self.changed(pk)
        self.assertEqual(self.sizes(pk)["square"], (420, 400))
        answer = self.send(
            "draw_shelved", {"item": self.key(pk), "variant": "square", "x": 0, "y": 0, "width": 42, "height": 40}
        )
        self.assertEqual(self.item(answer.json()["chosen"][0]).shelf_link.variant, "square")

    def test_a_variant_that_cannot_follow_is_told_and_stays(self):
        _, pk = self.kept()
        self.client.post(f"/shelf/{pk}/variants")
        item = self.draw("rectangle", 0, 0, 900, 20)
        window = self.draw("rectangle", 10, 5, 880, 10)
        made = self.send("combine", {"ids": [item, window], "operation": "subtract"}).json()["chosen"][0]
        told = self.keep(made, of=self.key(pk)).json()
        self.assertEqual(told["version"], 2)
        self.assertEqual(ShelfVersion.objects.filter(item=pk, variant="").count(), 2)


class Files(ShelfCase):
    def sent(self, pk, query=""):
        answer = self.client.get(f"/shelf/{pk}/file{query}")
        self.assertEqual(answer.status_code, 200)
        return b"".join(answer.streaming_content)

    def receive(self, *files):
        uploads = [SimpleUploadedFile(name, data) for name, data in files]
        return self.client.post("/shelf/receive", {"file": uploads}, follow=True).content.decode()

    def test_ours_brings_its_tags_and_variants_along(self):
        _, pk = self.kept(tags="ferry")
        self.client.post(f"/shelf/{pk}/variants")
        self.client.post(f"/shelf/{pk}/independent", {"variant": "square"})
        data, sizes = self.sent(pk), self.sizes(pk)
        self.client.force_login(self.other)
        self.assertIn("“Card” is on the shelf", self.receive(("card.gouge", data)))
        one = ShelfItem.objects.get(owner=self.other)
        self.assertEqual((one.name, one.tags, self.sizes(one.pk)), ("Card", "ferry", sizes))
        follows = dict(one.versions.values_list("variant", "follows"))
        self.assertEqual(follows, {"": False, "square": False, "portrait": True})

    def test_a_silhouette_brings_the_photo_it_was_traced_from(self):
        image = Image.new("RGB", (400, 300), "white")
        image.paste((10, 10, 10), (100, 80, 300, 220))
        out = io.BytesIO()
        image.save(out, "PNG")
        file = self.upload(out.getvalue(), "light.png").json()["file"]
        (photo,) = self.send("place", {"files": [file]}).json()["chosen"]
        traced = self.send("silhouette", {"id": photo, "way": "brightness"})
        self.assertEqual(traced.status_code, 200, traced.content)
        (item,) = traced.json()["chosen"]
        pk = ShelfItem.objects.get(key=self.keep(item, name="Light").json()["item"]).pk
        data = self.sent(pk)
        self.client.force_login(self.other)
        self.receive(("light.gouge", data))
        self.assertEqual(PhotoFile.objects.filter(owner=self.other).count(), 1)
        # and it is sent on from there
        self.assertTrue(self.sent(ShelfItem.objects.get(owner=self.other).pk))

    def test_a_project_file_is_one_outline_too(self):
        self.card()
        self.draw("ellipse", 0, 0, 50, 50)
        self.place()
        data = b"".join(self.client.get(f"/projects/{self.project.pk}/file").streaming_content)
        self.receive(("card.gouge", data))
        (one,) = ShelfItem.objects.all()
        self.assertEqual(self.sizes(one.pk), {"": (700, 500)})

    def test_svg_there_and_back_has_the_same_outline(self):
        _, pk = self.kept()
        data = self.sent(pk, "?form=svg&variant=")
        self.assertIn(b"<svg", data[:300])
        self.receive(("card.svg", data))
        new = ShelfItem.objects.exclude(pk=pk).get()
        was, now = (
            outline_of(ShelfVersion.objects.get(item=k).sheet.items[0]) if k == pk else
            outline_of(_only(ShelfVersion.objects.get(item=k).sheet.items[0]))
            for k in (pk, new.pk)
        )  # fmt: skip
        share = (now.bounds[2] / was.bounds[2]) ** 2
        self.assertAlmostEqual(now.area / share, was.area, delta=1e-3 * was.area)

    def test_what_is_no_outline_is_told_by_name(self):
        page = self.receive(("junk.gouge", b"PK\x03\x04junk"), ("notes.txt", b"hello"), ("empty.svg", b"<svg/>"))
        for name in ("junk.gouge", "notes.txt", "empty.svg"):
            self.assertIn(f"“{name}” couldn’t be added", page)
        self.assertEqual(ShelfItem.objects.count(), 0)
        self.assertIn("No file came", self.client.post("/shelf/receive", follow=True).content.decode())


def _only(item):
    """The one piece of a group."""
    return item.items[0] if hasattr(item, "items") else item
