"""The Shelf becomes things with versions, whatever they are; the log is about all of these, and outlives them."""

import secrets

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import jobs.models.shelf
from horismos.errors import HorismosError
from horismos.shelf import Kind, id_for, kind_of

PROTECT, CASCADE = django.db.models.deletion.PROTECT, django.db.models.deletion.CASCADE
NOTHING, NULL = django.db.models.deletion.DO_NOTHING, django.db.models.deletion.SET_NULL
BEFORE = "As it was before versions were kept"
USER = settings.AUTH_USER_MODEL


def _whole(kind, title, data):
    """What a thing says, as its kind has it; as it was kept where that cannot be read any more."""
    try:
        return kind_of(kind).read(title, data)
    except HorismosError:
        return data


class _Mover:
    """Puts what there is on the Shelf as things with versions."""

    def __init__(self, apps):
        self.get = lambda name: apps.get_model("jobs", name)
        self.taken = set()

    def put(self, kind, id, title, states, position=0):
        """A thing with its states, the oldest first: data, about, who, note and when of each."""
        self.taken.add(id)
        states = [(_whole(kind, title, data), *more) for data, *more in states]
        item = self.get("ShelfItem").objects.create(
            id=id, kind=kind.value, title=title, data=states[-1][0], position=position, number=len(states),
        )
        versions = self.get("ShelfVersion").objects
        for number, (data, about, who, note, when) in enumerate(states, 1):
            made = versions.create(
                item=item, number=number, title=title, data=data, about=about, who_id=who, note=note[:200],
            )
            if when is not None:
                versions.filter(pk=made.pk).update(when=when)

    def machines(self):
        for place, row in enumerate(self.get("Machine").objects.order_by("id")):
            self.put(Kind(row.kind), row.pk, row.title, [(row.data, {}, None, BEFORE, None)], place)

    def destinations(self):
        for row in self.get("Destination").objects.all():
            data = {"names": row.names, "printer": row.printer_id, "cutter": row.cutter_id}
            self.put(Kind.DESTINATION, row.pk, row.title, [(data, {}, None, BEFORE, None)], row.position)

    def materials(self):
        for row in self.get("Material").objects.all():
            data = {**row.data, "width_mm": row.width_mm, "price_m2": row.price_m2}
            self.put(Kind.MATERIAL, row.pk, row.title, [(data, {}, None, BEFORE, None)], row.position)

    def tools(self):
        rows = {}
        for row in self.get("ShopTool").objects.order_by("number"):
            rows.setdefault((row.destination_id, row.material_id, row.role), []).append(row)
        titles = {row.pk: row.title for model in ("Destination", "Material") for row in self.get(model).objects.all()}
        for (destination, material, role), versions in rows.items():
            title = f"{role.replace('-', ' ').capitalize()} · {titles[material]} · {titles[destination]}"[:200]
            self.put(Kind.TOOL, id_for(f"{role}-{material}-{destination}", self.taken), title, [
                (
                    {**row.data, "destination": destination, "material": material, "role": role, "holder": None,
                     "passed": row.seen == "right"},
                    {"seen": row.seen, "confirmed": row.confirmed}, row.who_id, row.note, row.when,
                )
                for row in versions
            ])

    def perforations(self):
        for row in self.get("PerforationPattern").objects.all():
            data = {name: getattr(row, name) for name in ("cut_mm", "tie_mm", "tie_force_gf")}
            self.put(Kind.PERFORATION, id_for(row.name, self.taken), row.name, [(data, {}, row.who_id, "", row.when)])

    def recipes(self):
        for row in self.get("Recipe").objects.order_by("name"):
            self.put(Kind.RECIPE, id_for(row.name, self.taken), row.name, [
                ({"steps": one.steps, **one.bound}, {}, one.who_id, one.note, one.when)
                for one in row.versions.order_by("number")
            ])

    def check_sheets(self):
        for row in self.get("CheckSheet").objects.order_by("id"):
            title = "Shop" if row.scope == "shop" else row.subject
            subject = {} if row.scope == "shop" else {row.scope: row.subject}
            states = [
                ({"scope": row.scope, **subject, "limits": one.data.get("limits", {}),
                  "severities": one.data.get("severities", {})}, {}, one.who_id, one.note, one.when)
                for one in row.versions.order_by("number")
            ]
            if states:
                self.put(Kind.CHECK_SHEET, id_for(f"checks-{title}", self.taken), f"Checks · {title}"[:200], states)

    def log(self):
        entries = self.get("LogEntry").objects
        for row in entries.select_related("job", "shared", "who").iterator():
            on = row.job or row.shared
            entries.filter(pk=row.pk).update(
                topic="job" if row.job_id else "sheet", about=on.name if on else "",
                who_name=row.who.username if row.who else "",
            )


def move(apps, schema_editor):
    """Everything, in an order in which what is referred to is there."""
    mover = _Mover(apps)
    for what in ("machines", "destinations", "materials", "tools", "perforations", "recipes", "check_sheets", "log"):
        getattr(mover, what)()
    if mover.taken:
        apps.get_model("jobs", "Shop").objects.create(
            name=getattr(settings, "SHOP_NAME", ""), state=secrets.token_hex(16), begun=True,
        )


def _to_item(related="+", on_delete=PROTECT, **more):
    return models.ForeignKey(on_delete=on_delete, related_name=related, to="jobs.shelfitem", **more)


def _loose(to, related):
    return models.ForeignKey(db_constraint=False, null=True, on_delete=NOTHING, related_name=related, to=to)


class Migration(migrations.Migration):
    """New tables, what there was put into them, then what refers to it, then the old ones go."""

    dependencies = [("jobs", "0027_stamps"), migrations.swappable_dependency(USER)]
    operations = [
        migrations.CreateModel("Shop", [
            ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
            ("name", models.CharField(blank=True, max_length=120)),
            ("unit", models.CharField(default="mm", max_length=2)),
            ("currency", models.CharField(blank=True, max_length=8)),
            ("state", models.CharField(default=jobs.models.shelf._state, max_length=32)),
            ("begun", models.BooleanField(default=False)),
        ]),
        migrations.CreateModel("ShelfItem", [
            ("id", models.CharField(max_length=80, primary_key=True, serialize=False)),
            ("kind", models.CharField(choices=jobs.models.shelf.KINDS, max_length=20)),
            ("title", models.CharField(max_length=200)),
            ("data", models.JSONField(default=dict)),
            ("retired", models.BooleanField(default=False)),
            ("position", models.PositiveIntegerField(default=0)),
            ("number", models.PositiveIntegerField(default=1)),
        ], options={
            "verbose_name": "thing on the Shelf", "ordering": ["position", "id"],
            "indexes": [models.Index(fields=["kind", "position", "id"], name="item_by_kind")],
        }),
        migrations.CreateModel("ShelfVersion", [
            ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
            ("number", models.PositiveIntegerField()),
            ("title", models.CharField(max_length=200)),
            ("data", models.JSONField()),
            ("retired", models.BooleanField(default=False)),
            ("about", models.JSONField(default=dict)),
            ("note", models.CharField(blank=True, max_length=200)),
            ("when", models.DateTimeField(auto_now_add=True)),
            ("item", _to_item("versions", CASCADE)),
            ("who", models.ForeignKey(null=True, on_delete=NULL, to=USER)),
        ], options={
            "ordering": ["number"],
            "constraints": [models.UniqueConstraint(fields=["item", "number"], name="item_version_number")],
        }),
        migrations.AddField("job", "kept", models.JSONField(default=dict)),
        migrations.AlterModelOptions("decision", {}),
        migrations.AddField("logentry", "about", models.CharField(blank=True, max_length=200)),
        migrations.AddField("logentry", "topic", models.CharField(
            choices=[("job", "Job"), ("sheet", "Sheet"), ("shelf", "Shelf"), ("person", "Person")], default="job",
            max_length=8,
        ), preserve_default=False),
        migrations.AddField("logentry", "who_name", models.CharField(blank=True, max_length=150)),
        migrations.RunPython(move, migrations.RunPython.noop),
        migrations.AddField("logentry", "person", _loose(USER, "+")),
        migrations.AddField("logentry", "item", _loose("jobs.shelfitem", "log")),
        migrations.AlterField("logentry", "job", _loose("jobs.job", "log")),
        migrations.AlterField("logentry", "shared", _loose("jobs.sharedsheet", "log")),
        migrations.AlterField("logentry", "who", _loose(USER, "+")),
        migrations.AddIndex("logentry", models.Index(fields=["topic", "id"], name="log_by_topic")),
        migrations.AddIndex("logentry", models.Index(fields=["who", "id"], name="log_by_who")),
        *(
            migrations.AlterField(model, name, _to_item())
            for model in ("job", "sharedsheet") for name in ("destination", "material")
        ),
        migrations.AlterField("work", "kind", models.CharField(choices=[
            (word, word.replace("-", " ").title()) for word in (
                "take-in", "analyse", "try-sheet", "try-shelf", "mend", "preview", "release", "rip", "scan", "rehearse",
                "nest", "sheet", "stack",
            )
        ], max_length=20)),
        migrations.AlterField("media", "material", _to_item("media", CASCADE)),
        migrations.AlterField("pointeroffset", "destination", _to_item("+", CASCADE)),
        *(migrations.DeleteModel(name) for name in (
            "CheckSheetVersion", "CheckSheet", "RecipeVersion", "Recipe", "ShopTool", "PerforationPattern",
            "Destination", "Material", "Machine",
        )),
    ]
