"""The words of the screen are those of the tables: exports and batches."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("studio", "0007_what_changed"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.RenameModel("Delivery", "Export"),
        migrations.RenameModel("Run", "Batch"),
        migrations.RenameModel("RunPhoto", "BatchPhoto"),
        migrations.RenameField("Project", "delivery", "export"),
        migrations.RenameField("BatchPhoto", "run", "batch"),
        migrations.AlterModelOptions(
            name='batchphoto',
            options={'ordering': ['batch', 'position']},
        ),
        migrations.RemoveConstraint(
            model_name='batchphoto',
            name='one_photo_a_place',
        ),
        migrations.AlterField(
            model_name='batch',
            name='owner',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='batches', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AlterField(
            model_name='batch',
            name='project',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='batches', to='studio.project'),
        ),
        migrations.AlterField(
            model_name='export',
            name='project',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='exports', to='studio.project'),
        ),
        migrations.AddConstraint(
            model_name='batchphoto',
            constraint=models.UniqueConstraint(fields=('batch', 'position'), name='one_photo_a_place'),
        ),
    ]
