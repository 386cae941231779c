"""Work bears a stamp by which browsers hear what has ended since they last asked."""

from django.db import migrations, models
from django.db.models import F


def stamp(apps, schema_editor):
    """What is there has ended in the order of its numbers."""
    apps.get_model("jobs", "Work").objects.update(stamp=F("id"))


class Migration(migrations.Migration):
    """A column and its index."""

    dependencies = [("jobs", "0026_shelf")]
    operations = [
        migrations.AddField("work", "stamp", models.PositiveBigIntegerField(default=0)),
        migrations.RunPython(stamp, migrations.RunPython.noop),
        migrations.AddIndex("work", models.Index(fields=["stamp"], name="work_by_stamp")),
    ]
