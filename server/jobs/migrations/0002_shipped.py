"""The destinations and materials that ship with the product."""

from django.db import migrations

from horismos.destinations import SHIPPED
from horismos.materials import MATERIALS


def ship(apps, schema_editor):
    """Write them."""
    for d in SHIPPED.values():
        apps.get_model("jobs", "Destination").objects.update_or_create(
            id=d.id, defaults={"title": d.title}
        )
    for m in MATERIALS.values():
        apps.get_model("jobs", "Material").objects.update_or_create(
            id=m.id, defaults={"title": m.title, "width_mm": m.width_mm}
        )


class Migration(migrations.Migration):
    """Data only."""

    dependencies = [("jobs", "0001_initial")]
    operations = [migrations.RunPython(ship, migrations.RunPython.noop)]
