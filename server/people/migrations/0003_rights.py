"""Rights of a person become roles: those that a shop begins with, and for who is here already, one that fits."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models
from jobs.store.rights import ROLES, SAYS, Right, codename

WAIVES, EDITS = "waive_stop", "edit_shelf"
"""What the two rights were called that there were beside working."""


def roles(apps, schema_editor):
    """Give each who is here a role that holds what that person could do; those with both rights own the shop."""
    people = list(apps.get_model("auth", "User").objects.order_by("pk"))
    if not people:
        return
    kind, _ = apps.get_model("contenttypes", "ContentType").objects.get_or_create(app_label="people", model="invite")
    permissions = {
        right: apps.get_model("auth", "Permission").objects.get_or_create(
            content_type=kind, codename=codename(right), defaults={"name": f"May {SAYS[right]}"},
        )[0]
        for right in Right
    }
    groups = apps.get_model("auth", "Group").objects

    def role(name, rights):
        group, made = groups.get_or_create(name=name)
        if made:
            group.permissions.set([permissions[right] for right in rights])
        return group

    made = {name: role(name, rights) for name, rights in ROLES.items()}
    plain = ROLES["Technician"]
    for person in people:
        had = set(person.user_permissions.values_list("codename", flat=True))
        if {WAIVES, EDITS} <= had or person.is_superuser:
            person.groups.add(made["Owner"])
        elif EDITS in had:
            person.groups.add(role("Technician who changes the Shelf", [*plain, Right.EDIT_SHELF]))
        elif WAIVES in had:
            person.groups.add(role("Technician who waives stops", [*plain, Right.WAIVE]))
        else:
            person.groups.add(made["Technician"])
        person.user_permissions.clear()


class Migration(migrations.Migration):
    """After the jobs' own, whose tables had the two rights before."""

    dependencies = [
        ("auth", "0012_alter_user_first_name_max_length"), ("contenttypes", "0002_remove_content_type_name"),
        ("jobs", "0028_shelf_items"), ("people", "0002_habits"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.CreateModel("Invite", [
            ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
            ("digest", models.CharField(max_length=64, unique=True)),
            ("note", models.CharField(blank=True, max_length=100)),
            ("made", models.DateTimeField(auto_now_add=True)),
            ("ends", models.DateTimeField()),
            ("used", models.DateTimeField(null=True)),
            ("roles", models.ManyToManyField(related_name="+", to="auth.group")),
            ("who", models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL,
            )),
        ], options={"permissions": [(codename(right), f"May {SAYS[right]}") for right in Right]}),
        migrations.RunPython(roles, migrations.RunPython.noop),
    ]
