"""The tables have the words of the screen: exports and batches."""

from django.conf import settings
from django.db import migrations, models

PERSON = settings.AUTH_USER_MODEL


def belongs_to(model, related_name, **more):
    return models.ForeignKey(on_delete=more.pop("on_delete", models.CASCADE), related_name=related_name, to=model, **more)


class Migration(migrations.Migration):
    dependencies = [("studio", "0007_what_changed"), migrations.swappable_dependency(PERSON)]

    operations = [
        migrations.RenameModel("Delivery", "Export"),
        migrations.RenameModel("Run", "Batch"),
        migrations.RenameModel("RunPhoto", "BatchPhoto"),
        migrations.RenameField("Project", "delivery", "export"),
        # what speaks of a field's old name gives way while it is renamed
        migrations.AlterModelOptions("BatchPhoto", {"ordering": ["position"]}),
        migrations.RemoveConstraint("BatchPhoto", "one_photo_a_place"),
        migrations.RenameField("BatchPhoto", "run", "batch"),
        migrations.AlterModelOptions("BatchPhoto", {"ordering": ["batch", "position"]}),
        migrations.AddConstraint(
            "BatchPhoto", models.UniqueConstraint(fields=("batch", "position"), name="one_photo_a_place")
        ),
        migrations.AlterField("Batch", "owner", belongs_to(PERSON, "batches")),
        migrations.AlterField(
            "Batch", "project", belongs_to("studio.project", "batches", null=True, on_delete=models.SET_NULL)
        ),
        migrations.AlterField("Export", "project", belongs_to("studio.project", "exports")),
    ]
