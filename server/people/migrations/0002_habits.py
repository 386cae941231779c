"""How people like to see things."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

UNITS = [("mm", "millimetres"), ("in", "inches")]


class Migration(migrations.Migration):
    """A unit for each person."""

    dependencies = [migrations.swappable_dependency(settings.AUTH_USER_MODEL), ("people", "0001_log_ins")]
    operations = [
        migrations.CreateModel(
            name="Habit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("unit", models.CharField(choices=UNITS, default="mm", max_length=2)),
                ("user", models.OneToOneField(
                    on_delete=django.db.models.deletion.CASCADE, related_name="habit", to=settings.AUTH_USER_MODEL,
                )),
            ],
        ),
    ]
