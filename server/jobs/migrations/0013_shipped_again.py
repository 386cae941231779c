"""The destinations and materials that came to those that ship, and usual rolls and sheets."""

from django.db import migrations

from horismos.destinations import SHIPPED
from horismos.materials import MATERIALS


def ship(apps, schema_editor):
    """Write those that are not there yet; each material has the roll or sheet that it usually comes as."""
    for d in SHIPPED.values():
        apps.get_model("jobs", "Destination").objects.get_or_create(id=d.id, defaults={"title": d.title})
    for m in MATERIALS.values():
        row, _ = apps.get_model("jobs", "Material").objects.get_or_create(
            id=m.id, defaults={"title": m.title, "width_mm": m.width_mm}
        )
        apps.get_model("jobs", "Media").objects.get_or_create(
            material=row, left_by="", width_mm=m.width_mm, length_mm=m.length_mm,
            defaults={"title": m.title, "roll": m.length_mm is None, "loaded": True},
        )


def look_again(apps, schema_editor):
    """Sheets are kept in another shape: jobs that have one are looked at again."""
    for row in apps.get_model("jobs", "Analysis").objects.exclude(sheet={}).only("id", "job_id"):
        row.sheet, row.cut, row.key = {}, {}, ""
        row.save(update_fields=["sheet", "cut", "key"])
        apps.get_model("jobs", "Work").objects.create(job_id=row.job_id, kind="analyse")


class Migration(migrations.Migration):
    """Data only."""

    dependencies = [("jobs", "0012_sheets")]
    operations = [
        migrations.RunPython(ship, migrations.RunPython.noop),
        migrations.RunPython(look_again, migrations.RunPython.noop),
    ]
