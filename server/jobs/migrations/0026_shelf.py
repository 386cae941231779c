"""Materials, machines and destinations become rows with all that is known of them, filled from what ships."""

import django.db.models.deletion
from django.db import migrations, models

from horismos import destinations, machines, materials
from horismos.json_readers import plain


def fill(apps, schema_editor):
    """Give what is there what ships under its id; the rest is filled in after every migration."""
    rows = apps.get_model("jobs", "Machine").objects
    for kind, known in (("printer", machines.PRINTERS), ("cutter", machines.CUTTERS)):
        for one in known.values():
            data = {key: value for key, value in plain(one).items() if key not in ("id", "title")}
            rows.get_or_create(id=one.id, defaults={"kind": kind, "title": one.title, "data": data})
    for place, one in enumerate(destinations.SHIPPED.values()):
        apps.get_model("jobs", "Destination").objects.filter(pk=one.id).update(
            names=plain(one.names), printer_id=one.rip.id, cutter_id=one.cutter.id, position=place,
        )
    for place, one in enumerate(materials.MATERIALS.values()):
        data = {key: value for key, value in plain(one).items() if key not in ("id", "title", "width_mm")}
        apps.get_model("jobs", "Material").objects.filter(pk=one.id).update(data=data, position=place)


def _machine(null):
    return models.ForeignKey(
        null=null, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="jobs.machine",
    )


class Migration(migrations.Migration):
    """A destination gets its machines before it has to have them."""

    dependencies = [("jobs", "0025_job_state")]
    operations = [
        migrations.CreateModel("Machine", [
            ("id", models.CharField(max_length=80, primary_key=True, serialize=False)),
            ("kind", models.CharField(choices=[("printer", "Printer"), ("cutter", "Cutter")], max_length=8)),
            ("title", models.CharField(max_length=200)),
            ("data", models.JSONField(default=dict)),
            ("version", models.PositiveIntegerField(default=1)),
        ]),
        *(
            migrations.AlterField(model, name, field)
            for model in ("destination", "material")
            for name, field in (
                ("id", models.CharField(max_length=80, primary_key=True, serialize=False)),
                ("title", models.CharField(max_length=200)),
            )
        ),
        *(
            migrations.AddField(model, name, models.PositiveIntegerField(default=default))
            for model in ("destination", "material") for name, default in (("position", 0), ("version", 1))
        ),
        migrations.AlterModelOptions("destination", {"ordering": ["position", "id"]}),
        migrations.AlterModelOptions("material", {"ordering": ["position", "id"]}),
        migrations.AddField("material", "data", models.JSONField(default=dict)),
        migrations.AddField("destination", "names", models.JSONField(default=dict)),
        migrations.AddField("destination", "printer", _machine(True)),
        migrations.AddField("destination", "cutter", _machine(True)),
        migrations.RunPython(fill, migrations.RunPython.noop),
        migrations.AlterField("destination", "printer", _machine(False)),
        migrations.AlterField("destination", "cutter", _machine(False)),
    ]
