from django.db import migrations, models


def typed_are_confirmed(apps, schema_editor):
    """What was typed in was typed by somebody with the right to."""
    apps.get_model("jobs", "ShopTool").objects.filter(seen="").update(confirmed=True)


class Migration(migrations.Migration):
    """Versions of a tool's setting that somebody with the right to has confirmed."""

    dependencies = [("jobs", "0019_stacks")]
    operations = [
        migrations.AddField("shoptool", "confirmed", models.BooleanField(default=False)),
        migrations.RunPython(typed_are_confirmed, migrations.RunPython.noop),
    ]
