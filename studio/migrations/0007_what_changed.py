"""Revisions that were stored whole are kept as what changed, the head and every so often one whole as before."""

from collections import OrderedDict

from django.db import migrations
from django.db.models import F

from studio.history.deltas import step
from sheet.document.store import Damaged, photos_in, unfolded

CHAIN = 200
REMEMBERED = 8


def shrink(apps, schema_editor):
    Project, Revision = apps.get_model("studio", "Project"), apps.get_model("studio", "Revision")
    PhotoUse = apps.get_model("studio", "PhotoUse")
    for project in Project.objects.only("pk", "head_id").iterator():
        known = {}
        texts = OrderedDict()
        used = set()
        whole = Revision.objects.filter(project=project.pk)

        def text_of(pk):
            if pk not in texts:
                texts[pk] = unfolded(bytes(whole.values_list("data", flat=True).get(pk=pk)))
                while len(texts) > REMEMBERED:
                    texts.popitem(last=False)
            return texts[pk]

        for pk in list(whole.order_by("number").values_list("pk", flat=True)):
            one = whole.get(pk=pk)
            one.key = one.number
            try:
                text = text_of(pk)
                used |= photos_in(text)
                if one.parent_id in known:
                    key, weight = known[one.parent_id]
                    made = step(text_of(one.parent_id), text)
                    weight += len(made)
                    if one.number - key <= CHAIN and weight <= len(one.data):
                        one.step, one.key, one.weight = made, key, weight
                known[pk] = (one.key, one.weight)
            except Damaged:
                # one that cannot be read stays as it is, and nothing is made of it
                pass
            one.save(update_fields=["step", "key", "weight"])
        whole.filter(step__isnull=False).exclude(key=F("number")).exclude(pk=project.head_id).update(data=None)
        PhotoUse.objects.bulk_create(
            [PhotoUse(project_id=project.pk, sha256=sha) for sha in sorted(used)], ignore_conflicts=True
        )


def whole_again(apps, schema_editor):
    from studio.history.revisions import whole_of

    from studio.models import Revision

    for one in Revision.objects.filter(data=None).order_by("number").iterator():
        Revision.objects.filter(pk=one.pk).update(data=whole_of(one))


class Migration(migrations.Migration):
    dependencies = [("studio", "0006_steps")]
    operations = [migrations.RunPython(shrink, whole_again)]
