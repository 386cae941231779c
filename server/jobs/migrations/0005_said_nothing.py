"""Orders kept the shipped bleed, border and tolerance where nobody had said them; now they say nothing."""

from django.db import migrations

SHIPPED = {"bleed_mm": 3.0, "border_mm": 1.5, "tolerance_mm": 0.5}


def forget(apps, schema_editor):
    """Until now a value that equals the shipped one counted as not said; so it is left out."""
    for model, field in (("Order", "data"), ("Customer", "order")):
        for row in apps.get_model("jobs", model).objects.all():
            kept = {key: value for key, value in getattr(row, field).items() if SHIPPED.get(key) != value}
            if kept != getattr(row, field):
                setattr(row, field, kept)
                row.save(update_fields=[field])


class Migration(migrations.Migration):

    dependencies = [("jobs", "0004_check")]
    operations = [migrations.RunPython(forget, migrations.RunPython.noop)]
