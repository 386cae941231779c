"""Which code an analysis was made by; those of before are made anew."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """Empty for all that is there: nobody knows."""

    dependencies = [("jobs", "0022_codes_of_refusals")]
    operations = [migrations.AddField("analysis", "code", models.CharField(max_length=64, blank=True, default=""),
                                      preserve_default=False)]
