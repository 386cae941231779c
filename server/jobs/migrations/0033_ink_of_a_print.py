"""How much ink lies on the heaviest place of a print: more dries longer."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """One more figure of a release; of those that are printed it is not known, and counts as usual."""

    dependencies = [("jobs", "0032_the_floor")]
    operations = [migrations.AddField("release", "ink_percent", models.FloatField(default=0))]
