"""Drawings brought in through the app: kept, read by a worker, placed as a group, their pictures taken in."""

import base64

from django.core.files.uploadedfile import SimpleUploadedFile

from sheet import SheetError
from sheet.document.tree import find
from sheet.geometry.geometry import box_of
from studio.library.lookup import Owned
from studio.models import PhotoFile

from .helpers import StudioCase, jpeg

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100" viewBox="0 0 200 100">'


class Drawings(StudioCase):
    def bring(self, text: str, name="plan.svg", **args):
        file = self.client.post(f"/p/{self.project.pk}/photos", {"photo": SimpleUploadedFile(name, text.encode())})
        self.assertEqual(file.status_code, 200, file.content)
        self.assertTrue(file.json()["drawing"])
        return self.send("bring_drawing", {"file": file.json()["file"], **args})

    def test_many_parts_are_one_group_in_the_middle_and_what_is_not_understood_is_told(self):
        answer = self.bring(
            HEAD + '<rect width="50" height="50"/><circle cx="150" cy="50" r="30"/><foreignObject/></svg>'
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["note"], "Not understood, and left out: foreignObject (1).")
        group = find(self.fresh().head.sheet, answer.json()["chosen"][0])
        self.assertEqual((group.name, [i.kind for i in group.items]), ("plan", ["piece", "piece"]))
        # a px of the file is one of a sheet in px; the drawing's middle lies in the sheet's
        self.assertEqual([round(v) for v in box_of(group.items[0])], [400, 350, 450, 400])
        # ready to frame a photo
        photo = self.place(width=600, height=400)
        framed = self.send("put_in", {"ids": [group.id, photo]})
        self.assertEqual(framed.status_code, 200, framed.content)

    def test_a_group_that_nobody_named_has_the_name_of_the_file(self):
        for head, name in (("<g>", "plan"), ('<g id="leaf">', "leaf")):
            answer = self.bring(HEAD + head + '<rect width="5" height="5"/><circle r="5"/></g></svg>')
            self.assertEqual(find(self.fresh().head.sheet, answer.json()["chosen"][0]).name, name)

    def test_what_stands_in_for_something_is_told_apart(self):
        answer = self.bring(
            HEAD + '<path d="M0 0L9 0L0 1" stroke="red" stroke-miterlimit="20"/>'
            '<text y="20" font-family="Some Grotesque">Hi</text></svg>'
        )
        told = "Shown otherwise: 1 × font Some Grotesque (Atkinson Hyperlegible Bold instead), "
        self.assertEqual(answer.json()["note"], f"{told}1 × mitre limit (4 instead).")

    def test_about_a_point_and_again_by_undo(self):
        answer = self.bring(HEAD + '<rect width="200" height="100"/></svg>', x=200, y=100)
        piece = find(self.fresh().head.sheet, answer.json()["chosen"][0])
        self.assertEqual([round(v) for v in box_of(piece)], [100, 50, 300, 150])
        self.send("undo", {})
        self.assertEqual(self.fresh().head.sheet.items, ())

    def test_a_picture_in_it_is_a_photo_of_the_person(self):
        data = base64.b64encode(jpeg(60, 40)).decode()
        clip = '<clipPath id="c"><circle cx="100" cy="50" r="40"/></clipPath>'
        image = f'<image clip-path="url(#c)" href="data:image/jpeg;base64,{data}" width="200" height="100"/>'
        answer = self.bring(HEAD + clip + image + "</svg>")
        frame = find(self.fresh().head.sheet, answer.json()["chosen"][0])
        self.assertEqual(frame.kind, "frame")
        self.assertEqual(frame.photos[0].file, PhotoFile.objects.get(owner=self.user).sha256)
        self.assertEqual(self.order(what=frame.id).status_code, 200)

    def test_refused_in_words_and_nothing_changed(self):
        for text, words in (
            (HEAD + "<foreignObject/></svg>", "Nothing in “plan” can be drawn. Not understood: foreignObject (1)."),
            (HEAD, "is an SVG that can’t be read"),
            ('<!DOCTYPE svg [<!ENTITY a "b">]>' + HEAD + "<text>&a;</text></svg>", "entities"),
        ):
            with self.subTest(words):
                answer = self.bring(text)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.json()["error"])
        self.assertEqual(self.fresh().head.sheet.items, ())

    def test_nobody_elses(self):
        file = self.client.post(
            f"/p/{self.project.pk}/photos", {"photo": SimpleUploadedFile("a.svg", (HEAD + "</svg>").encode())}
        ).json()["file"]
        with self.assertRaisesRegex(SheetError, "not found"):
            Owned(self.other).drawing(file, 1.0)
        self.assertEqual(self.send("bring_drawing", {"file": "0" * 64}).status_code, 422)
