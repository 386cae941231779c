"""Whether a sheet that was laid in has been cut to the end."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """Loadings say so themselves: the Bench lists them."""

    dependencies = [("jobs", "0020_confirmed_tools")]
    operations = [migrations.AddField("loading", "cut", models.BooleanField(default=False))]
