"""The code of the error that a piece of work ended with."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """A screen leads from it to what it means."""

    dependencies = [("jobs", "0021_cut_to_the_end")]
    operations = [migrations.AddField("work", "code", models.CharField(max_length=40, blank=True, default=""),
                                      preserve_default=False)]
