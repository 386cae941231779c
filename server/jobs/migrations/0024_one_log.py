"""One log for jobs and shared sheets: what stood in a sheet as JSON becomes rows."""

from datetime import datetime

import django.db.models.deletion
from django.db import migrations, models


def rows(apps, schema_editor):
    """A row for each entry, in their order, with the times that they had."""
    entries, people = apps.get_model("jobs", "LogEntry"), apps.get_model("auth", "User")
    known = set(people.objects.values_list("pk", flat=True))
    for sheet in apps.get_model("jobs", "SharedSheet").objects.all():
        for entry in sheet.log:
            who = entry["who"] if entry["who"] in known else None
            made = entries.objects.create(shared=sheet, who_id=who, what=entry["what"])
            entries.objects.filter(pk=made.pk).update(when=datetime.fromisoformat(entry["when"]))


class Migration(migrations.Migration):
    """The related name comes last: a sheet has a field of that name until then."""

    dependencies = [("jobs", "0023_code_of_analyses"), ("auth", "0012_alter_user_first_name_max_length")]
    operations = [
        migrations.AlterField("logentry", "job", models.ForeignKey(
            null=True, on_delete=django.db.models.deletion.CASCADE, related_name="log", to="jobs.job",
        )),
        migrations.AddField("logentry", "shared", models.ForeignKey(
            null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="jobs.sharedsheet",
        )),
        migrations.RunPython(rows, migrations.RunPython.noop),
        migrations.RemoveField("sharedsheet", "log"),
        migrations.AlterField("logentry", "shared", models.ForeignKey(
            null=True, on_delete=django.db.models.deletion.CASCADE, related_name="log", to="jobs.sharedsheet",
        )),
    ]
