"""What is known of jobs for their customers and the shop's figures; letters that were sent, and their answers."""

from typing import Any

from django.conf import settings
from django.db import migrations, models

STATES = ["answer", "coming", "unreadable", "letter", "mend", "look", "ready", "released"]
GROUPS = [(one, one.capitalize()) for one in STATES]


def found_by(apps: Any, schema_editor: Any) -> None:
    """Let jobs of before be found by their inks and the codes of their sheets, as new ones are."""
    codes: dict[int, list[str]] = {}
    for job, ticket in apps.get_model("jobs", "Release").objects.values_list("job", "ticket").iterator():
        if ticket.get("code"):
            codes.setdefault(job, []).append(ticket["code"])
    jobs = apps.get_model("jobs", "Job").objects
    for job, seen in apps.get_model("jobs", "Analysis").objects.values_list("job", "seen").iterator():
        inks = [ink["name"] for ink in (seen or {}).get("inks", ())]
        jobs.filter(pk=job).update(found_by="\n".join(dict.fromkeys([*inks, *codes.get(job, ())])))


class Migration(migrations.Migration):
    """Faults as files came, when jobs were ready, what they are found by; letters."""

    dependencies = [("jobs", "0029_pile"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]
    operations = [
        migrations.AddField("job", "again_of", models.ForeignKey(
            null=True, on_delete=models.SET_NULL, related_name="+", to="jobs.job",
        )),
        migrations.AddField("job", "like", models.ForeignKey(
            null=True, on_delete=models.SET_NULL, related_name="+", to="jobs.job",
        )),
        migrations.AddField("job", "first_state", models.CharField(blank=True, choices=GROUPS, max_length=12)),
        migrations.AddField("job", "found_by", models.TextField(blank=True)),
        migrations.AddField("job", "ready_at", models.DateTimeField(null=True)),
        migrations.CreateModel("Fault", [
            ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
            ("check_id", models.CharField(max_length=40)),
            ("severity", models.CharField(max_length=8)),
            ("job", models.ForeignKey(on_delete=models.CASCADE, related_name="faults", to="jobs.job")),
        ], options={
            "indexes": [models.Index(fields=["check_id"], name="fault_by_kind")],
            "constraints": [
                models.UniqueConstraint(fields=("job", "check_id", "severity"), name="one_fault_of_a_kind"),
            ],
        }),
        migrations.CreateModel("Letter", [
            ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
            ("customer", models.CharField(blank=True, max_length=200)),
            ("kind", models.CharField(choices=[("points", "Points"), ("proof", "Proof")], max_length=8)),
            ("to", models.CharField(blank=True, max_length=254)),
            ("subject", models.CharField(max_length=300)),
            ("text", models.TextField()),
            ("checks", models.JSONField(default=list)),
            ("files", models.JSONField(default=list)),
            ("eml", models.CharField(max_length=64)),
            ("proves", models.CharField(blank=True, max_length=64)),
            ("sent", models.DateTimeField(auto_now_add=True)),
            ("answer", models.CharField(
                choices=[("open", "Open"), ("file", "File"), ("approved", "Approved"), ("refused", "Refused")],
                default="open", max_length=8,
            )),
            ("signed_by", models.CharField(blank=True, max_length=200)),
            ("signed_on", models.DateField(null=True)),
            ("note", models.TextField(blank=True)),
            ("answered", models.DateTimeField(null=True)),
            ("answered_to", models.ForeignKey(
                null=True, on_delete=models.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL,
            )),
            ("job", models.ForeignKey(on_delete=models.CASCADE, related_name="letters", to="jobs.job")),
            ("revision", models.ForeignKey(
                null=True, on_delete=models.SET_NULL, related_name="+", to="jobs.revision",
            )),
            ("who", models.ForeignKey(
                null=True, on_delete=models.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL,
            )),
        ], options={
            "ordering": ["-id"],
            "indexes": [models.Index(fields=["customer", "-id"], name="letter_by_customer")],
        }),
        migrations.RunPython(found_by, migrations.RunPython.noop),
    ]
