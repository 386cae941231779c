"""Cuts are kept in another shape: jobs and shared sheets that have one are looked at again."""

from django.db import migrations


def look_again(apps, schema_editor):
    """Forget what was found of sheets and cuts, and ask for it again."""
    Work = apps.get_model("jobs", "Work")
    for row in apps.get_model("jobs", "Analysis").objects.exclude(sheet={}).only("id", "job_id"):
        row.sheet, row.cut, row.more, row.key = {}, {}, {}, ""
        row.save(update_fields=["sheet", "cut", "more", "key"])
        Work.objects.create(job_id=row.job_id, kind="analyse")
    for sheet in apps.get_model("jobs", "SharedSheet").objects.exclude(found={}):
        sheet.found, sheet.key = {}, ""
        sheet.save(update_fields=["found", "key"])
        first = sheet.shares.order_by("position", "id").first()
        if first is not None:
            Work.objects.create(job_id=first.job_id, shared=sheet, kind="sheet")


class Migration(migrations.Migration):
    """Data only."""

    dependencies = [("jobs", "0013_shipped_again")]
    operations = [migrations.RunPython(look_again, migrations.RunPython.noop)]
