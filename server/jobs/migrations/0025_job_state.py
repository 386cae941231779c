"""What a job needs from a person becomes columns, so that the list is filtered and paged by the database."""

from django.db import migrations, models

GRAVITY = {"stop": 2, "look": 1}
STATES = ["asks", "coming", "stopped", "to-look-at", "ready", "released"]


def fill(apps, schema_editor):
    """The columns of the jobs that are there, as the list worked them out until now."""
    jobs, shares = apps.get_model("jobs", "Job"), apps.get_model("jobs", "Share")
    released = set(apps.get_model("jobs", "Release").objects.values_list("job_id", flat=True))
    released |= set(shares.objects.filter(sheet__releases__isnull=False).values_list("job_id", flat=True))
    analyses = dict((row["job_id"], row) for row in apps.get_model("jobs", "Analysis").objects.values(
        "job_id", "summary", "error",
    ))
    for job in jobs.objects.prefetch_related("decisions"):
        found = analyses.get(job.pk, {"summary": {}, "error": ""})
        findings = (found["summary"] or {}).get("findings")
        let = {decision.key: decision.severity for decision in job.decisions.all()}
        if findings is not None:
            left = [f[1] for f in findings if f[0] not in let or GRAVITY.get(f[1], 0) > GRAVITY.get(let[f[0]], 0)]
            job.stops, job.looks = left.count("stop"), left.count("look")
            job.verdict = "stop" if job.stops else "look" if job.looks else "clean"
        trouble = (found["summary"] or {}).get("sheet_error", "")
        if job.asks:
            job.state = "asks"
        elif job.stops is None:
            job.state = "stopped" if found["error"] else "coming"
        elif job.pk in released:
            job.state = "released"
        else:
            job.state = "stopped" if job.stops or trouble else "to-look-at" if job.looks else "ready"
        if job.stops is not None:
            job.station = 5 if job.pk in released else 1 if job.stops else 2 if trouble else 4
        job.save(update_fields=["state", "verdict", "stops", "looks", "station"])


class Migration(migrations.Migration):
    """Five columns and an index."""

    dependencies = [("jobs", "0024_one_log")]
    operations = [
        migrations.AddField("job", "state", models.CharField(
            max_length=12, default="coming", choices=[(one, one.replace("-", " ").title()) for one in STATES],
        )),
        migrations.AddField("job", "verdict", models.CharField(max_length=8, blank=True, default=""),
                            preserve_default=False),
        migrations.AddField("job", "stops", models.PositiveIntegerField(null=True)),
        migrations.AddField("job", "looks", models.PositiveIntegerField(null=True)),
        migrations.AddField("job", "station", models.PositiveSmallIntegerField(default=0)),
        migrations.AddIndex("job", models.Index(fields=["state", "due", "id"], name="job_by_state")),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]
