"""Projects as pictures: make, rename, duplicate, delete with undo."""

import io

from PIL import Image

from studio.models import Project

from .helpers import StudioCase


class Projects(StudioCase):
    def make(self, **fields):
        first = {"name": "Tag", "size": "custom", "width": "10", "height": "15", "unit": "cm", "resolution": "300"}
        first |= {"backdrop_kind": "none", "backdrop": "#ffffff"}
        return self.client.post("/projects/new", first | fields)

    def test_making_one(self):
        self.make(backdrop_kind="colour", backdrop="#AABBCC", width="2000/3 px", unit="px", height="720")
        sheet = Project.objects.get(name="Tag").head.sheet
        self.assertAlmostEqual(sheet.width, 2000 / 3)
        self.assertEqual((sheet.height, sheet.backdrop), (720, "#aabbcc"))

    def test_bad_numbers_are_said_at_the_form_and_nothing_is_made(self):
        for field, value in (("width", "0"), ("height", "-1"), ("width", "1000000000"), ("resolution", "many")):
            with self.subTest(field=field, value=value):
                answer = self.make(**{field: value})
                self.assertContains(answer, "is-invalid", status_code=422)
                self.assertContains(answer, value, status_code=422)
        self.assertEqual(Project.objects.count(), 1)

    def test_rename_duplicate_delete_and_undo(self):
        pk = self.project.pk
        self.draw()
        self.client.post(f"/projects/{pk}/rename", {"name": "  Ferry card "})
        self.assertEqual(self.fresh().name, "Ferry card")
        self.client.post(f"/projects/{pk}/rename", {"name": "  "})
        self.assertEqual(self.fresh().name, "Ferry card")
        self.client.post(f"/projects/{pk}/duplicate")
        copy = Project.objects.get(name="Ferry card copy")
        self.assertEqual(copy.head.sheet, self.fresh().head.sheet)
        page = self.client.post(f"/projects/{pk}/delete", follow=True)
        self.assertContains(page, f"/projects/{pk}/restore")
        self.assertEqual(self.client.get(f"/p/{pk}/").status_code, 404)
        self.client.post(f"/projects/{pk}/restore")
        self.assertEqual(self.client.get(f"/p/{pk}/").status_code, 200)

    def test_the_picture_shows_the_sheet(self):
        piece = self.draw(width=1000, height=800)
        self.send("paint", {"ids": [piece], "field": "fill", "value": "#ff0000"})
        answer = self.client.get(f"/projects/{self.project.pk}/picture.png")
        image = Image.open(io.BytesIO(answer.content))
        self.assertEqual(image.size, (560, 448))
        self.assertEqual(image.getpixel((280, 224)), (255, 0, 0))
