"""Jobs are grouped by what they need from a person; what comes in may be mended by itself."""

from typing import Any

from django.db import migrations, models

BEFORE = {"asks": "answer", "stopped": "mend", "to-look-at": "look"}
STATES = ["answer", "coming", "unreadable", "letter", "mend", "look", "ready", "released"]


def renamed(apps: Any, schema_editor: Any) -> None:
    """What the groups were called; which of the stopped need a letter is told when they are looked at again."""
    jobs = apps.get_model("jobs", "Job").objects
    for old, new in BEFORE.items():
        jobs.filter(state=old).update(state=new)


class Migration(migrations.Migration):
    """New groups, and what is done by itself."""

    dependencies = [("jobs", "0028_shelf_items")]
    operations = [
        migrations.AlterField("job", "state", models.CharField(
            choices=[(one, one.capitalize()) for one in STATES], default="coming", max_length=12,
        )),
        migrations.AddField("revision", "by_itself", models.BooleanField(default=False)),
        migrations.AddField("customer", "declined", models.JSONField(default=list)),
        migrations.AddField("shop", "sorts", models.BooleanField(default=False)),
        migrations.RunPython(renamed, migrations.RunPython.noop),
    ]
