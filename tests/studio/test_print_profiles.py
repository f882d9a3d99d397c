"""The person's own print profiles: added, listed at Export, used for a PDF/X-4, and hidden from others."""

import io
import json

import pikepdf
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase

from studio.models import OwnFile
from studio.operations import retention
from studio.storage import Stored, own_key
from tests.made_profile import made_profile

from .helpers import StudioCase

PRESS = made_profile()


class Profiles(StudioCase):
    def bring(self, data: bytes = PRESS, name: str = "press.icc"):
        return self.client.post("/profiles", {"file": SimpleUploadedFile(name, data)})

    def export(self, **order):
        asked = {"format": "pdf", "what": "sheet", "standard": "print", **order}
        return self.client.post(f"/p/{self.project.pk}/export", json.dumps(asked), content_type="application/json")

    def test_brought_in_listed_and_exported_with(self):
        self.draw()
        answer = self.export()
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(answer.json()["field"], "profile")
        self.assertEqual(answer.json()["offer"][1], "page:bring-file")
        came = self.bring().json()
        self.assertEqual((came["name"], came["kind"]), ("Skerry Coated", "CMYK"))
        order = {"format": "pdf", "standard": "print", "profile": came["key"]}
        drawer = self.ask_panels(station="export", export=order)["drawer"]
        self.assertIn(">Skerry Coated</option>", drawer)
        self.assertIn("Skerry Coated", self.client.get("/account").content.decode())
        with pikepdf.open(io.BytesIO(self.export(profile=came["key"]).getvalue())) as pdf:
            (intent,) = pdf.Root.OutputIntents
            self.assertEqual(bytes(intent.DestOutputProfile.read_bytes()), PRESS)
            # the title is the project's name
            self.assertEqual(str(pdf.docinfo["/Title"]), self.fresh().name)

    def test_removed_from_the_lists_it_still_exports_and_stays_stored(self):
        key = self.bring().json()["key"]
        row = OwnFile.objects.get()
        self.draw()
        self.client.post(f"/own-files/{row.pk}/remove")
        drawer = self.ask_panels(station="export", export={"format": "pdf", "standard": "print", "profile": key})
        self.assertIn(">Skerry Coated</option>", drawer["drawer"])
        retention.clear(0)
        self.assertTrue(Stored(own_key("profile", row.digest)).exists())
        self.assertEqual(self.export(profile=key).status_code, 200)

    def test_nobody_elses(self):
        key = self.bring().json()["key"]
        self.client.force_login(self.other)
        self.assertEqual(self.client.post(f"/own-files/{OwnFile.objects.get().pk}/remove").status_code, 404)
        self.client.force_login(self.user)
        self.draw()
        OwnFile.objects.update(owner=self.other)
        answer = self.export(profile=key)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("“Skerry Coated” is missing", answer.json()["error"])

    def test_what_is_none_is_refused_in_words(self):
        for data, words in ((b"hello" * 100, "isn’t an ICC profile"), (PRESS[:-9], "is damaged")):
            answer = self.bring(data, "notes.icc")
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["error"])
        self.assertEqual(self.client.post("/profiles").status_code, 422)
        self.assertFalse(OwnFile.objects.exists())

    def test_a_closed_account_takes_them_along(self):
        self.bring()
        file = Stored(own_key("profile", OwnFile.objects.get().digest))
        self.assertTrue(file.exists())
        retention.close(self.user)
        self.assertFalse(file.exists())

    def test_a_batch_takes_the_standard_over(self):
        key = self.bring().json()["key"]
        frame = self.draw()
        self.send("put_in", {"ids": [frame, self.place()]})
        self.assertEqual(self.export(profile=key).status_code, 200)
        begun = self.client.post(
            f"/p/{self.project.pk}/batch", json.dumps({"ids": []}), content_type="application/json"
        )
        page = self.client.get(begun.json()["address"]).content.decode()
        # set one after the other, as a person does; made only with both
        address = begun.json()["address"]

        def settings(**order):
            return self.client.post(f"{address}set", json.dumps({"order": order}), content_type="application/json")

        self.assertIn(
            "needs the profile of the press", settings(format="pdf", standard="print", profile="").json()["wrong"]
        )
        self.assertNotIn("wrong", settings(profile=key).json())
        page = self.client.get(address).content.decode()
        self.assertInHTML('<option value="print" selected>PDF/X-4</option>', page)
        self.assertInHTML(f'<option value="{key}" selected>Skerry Coated</option>', page)


class Moved(TransactionTestCase):
    """A database of before has its orders and fonts afterwards."""

    def test_a_tick_becomes_a_standard(self):
        executor = MigrationExecutor(connection)
        executor.migrate([("studio", "0010_own_fonts")])
        before = executor.loader.project_state([("studio", "0010_own_fonts")]).apps
        ada = before.get_model("auth", "User").objects.create(username="ada")
        before.get_model("studio", "OwnFont").objects.create(owner=ada, digest="0" * 32, name="Marram", size=1)
        make = before.get_model("studio", "Project").objects.create
        make(owner=ada, name="Old", export={"format": "pdf", "archival": True})
        make(owner=ada, name="Plain", export={"format": "pdf", "archival": False})
        make(owner=ada, name="New", export={})
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        after = executor.loader.project_state(executor.loader.graph.leaf_nodes()).apps
        orders = dict(after.get_model("studio", "Project").objects.values_list("name", "export"))
        self.assertEqual(orders["Old"], {"format": "pdf", "standard": "archive"})
        self.assertEqual((orders["Plain"].get("standard"), orders["New"]), (None, {}))
        font = after.get_model("studio", "OwnFile").objects.get()
        self.assertEqual((font.use, font.name), ("font", "Marram"))
