import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    """Where people are logged in."""

    initial = True
    dependencies = [migrations.swappable_dependency(settings.AUTH_USER_MODEL)]
    operations = [
        migrations.CreateModel(
            name="LogIn",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("session", models.CharField(max_length=40, unique=True)),
                ("address", models.CharField(max_length=45)),
                ("browser", models.CharField(blank=True, max_length=200)),
                ("began", models.DateTimeField(auto_now_add=True)),
                ("seen", models.DateTimeField(auto_now=True)),
                ("user", models.ForeignKey(
                    on_delete=django.db.models.deletion.CASCADE, related_name="log_ins",
                    to=settings.AUTH_USER_MODEL,
                )),
            ],
        ),
    ]
