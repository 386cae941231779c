"""A decision is a person's on a finding, the log is the log, and a sheet alone is media."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

MENDS = ("kind", "label", "says")


def to_cards(apps, schema_editor):
    """Findings were kept with their mends among them; now cards show them, and the report is the core's own."""
    for row in apps.get_model("jobs", "Analysis").objects.exclude(report={}):
        cards = []
        for finding in row.report.get("findings", []):
            mends = finding.pop("mends", [])
            cards.append({**finding, "mends": [
                {
                    **{key: mend.get(key, "") for key in MENDS},
                    "settings": {k: v for k, v in mend.items() if k not in MENDS},
                }
                for mend in mends
            ]})
            finding["inks"] = [mend["ink"] for mend in mends if mend.get("ink")][:1]
            finding["wanted"] = [mend["to"] for mend in mends if mend.get("to")]
        row.cards = [card for card in cards if "key" in card]
        row.save(update_fields=["cards", "report"])


class Migration(migrations.Migration):

    dependencies = [("jobs", "0005_said_nothing"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.RenameModel("Decision", "LogEntry"),
        migrations.AlterField(
            "LogEntry", "job",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="log", to="jobs.job"),
        ),
        migrations.RenameModel("Settled", "Decision"),
        migrations.AlterField(
            "Decision", "job",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="decisions", to="jobs.job"),
        ),
        migrations.RenameModel("SheetVersion", "CheckSheetVersion"),
        migrations.AddField("Analysis", "cards", models.JSONField(default=list)),
        migrations.RunPython(to_cards, migrations.RunPython.noop),
    ]
