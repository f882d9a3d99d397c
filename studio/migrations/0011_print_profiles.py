"""Fonts and print profiles in one table; an order names the standard of its PDF, which was a tick before."""

from django.conf import settings
from django.db import migrations, models

USES = [("font", "font"), ("profile", "print profile")]


def name_standards(apps, schema_editor):
    for model, field in (("Project", "export"), ("Export", "order"), ("Batch", "order")):
        for row in apps.get_model("studio", model).objects.only("pk", field).iterator():
            order = getattr(row, field)
            if isinstance(order, dict) and order.pop("archival", False):
                order["standard"] = "archive"
                row.save(update_fields=[field])


class Migration(migrations.Migration):
    dependencies = [("studio", "0010_own_fonts"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.RenameModel("OwnFont", "OwnFile"),
        migrations.RemoveConstraint("OwnFile", "each_font_once"),
        migrations.AddField("OwnFile", "use", models.CharField(choices=USES, default="font", max_length=8)),
        migrations.AlterField("OwnFile", "name", models.CharField(max_length=80)),
        migrations.AlterField(
            "OwnFile",
            "owner",
            models.ForeignKey(
                on_delete=models.CASCADE, related_name="own_files", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddConstraint(
            "OwnFile", models.UniqueConstraint(fields=("owner", "use", "digest"), name="each_own_file_once")
        ),
        migrations.RunPython(name_standards, migrations.RunPython.noop),
    ]
