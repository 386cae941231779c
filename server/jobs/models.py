"""What the server keeps. Measured things are kept as the core's own JSON."""

from django.conf import settings
from django.db import models


class Destination(models.Model):
    """A RIP and cutter pair; ``id`` is the core's."""

    id = models.CharField(primary_key=True, max_length=40)
    title = models.CharField(max_length=120)


class Material(models.Model):
    """A material; ``id`` is the core's."""

    id = models.CharField(primary_key=True, max_length=40)
    title = models.CharField(max_length=120)
    width_mm = models.FloatField()
    price_m2 = models.FloatField(null=True)
    """What a square metre costs the shop."""


class Media(models.Model):
    """A roll or sheet of a material that the shop has, by its true size; an offcut names the sheet that left it."""

    material = models.ForeignKey(Material, on_delete=models.CASCADE, related_name="media")
    title = models.CharField(max_length=80)
    width_mm = models.FloatField()
    length_mm = models.FloatField(null=True)
    roll = models.BooleanField(default=True)
    loaded = models.BooleanField(default=False)
    left_by = models.CharField(max_length=200, blank=True)

    class Meta:
        """Offcuts first, so that they are used up."""

        ordering = ["-left_by", "width_mm", "id"]


class Customer(models.Model):
    """What is remembered of a customer: how layers, pens and colours were bound, and the last order.

    ``known`` are inks, colours and layers that a person has made lines in this customer's PDFs, with their roles.
    """

    name = models.CharField(max_length=200, unique=True)
    binding = models.JSONField(default=dict)
    known = models.JSONField(default=dict)
    order = models.JSONField(default=dict)


class Job(models.Model):
    """One piece of work: an artwork and what was asked for.

    ``original`` is the customer's file by its content. ``intake`` holds what was said about it and
    what taking it in noted; ``asks`` the questions that are open. ``version`` goes up with every change that
    a person makes, so that nobody changes what he has not seen.
    """

    original = models.CharField(max_length=64, blank=True)
    original_name = models.CharField(max_length=255, blank=True)
    intake = models.JSONField(default=dict)
    asks = models.JSONField(default=list)
    name = models.CharField(max_length=200)
    customer = models.CharField(max_length=200, blank=True)
    due = models.DateField(null=True, blank=True)
    page = models.PositiveIntegerField(default=1)
    destination = models.ForeignKey(Destination, on_delete=models.PROTECT)
    material = models.ForeignKey(Material, on_delete=models.PROTECT)
    layout = models.JSONField(default=dict)
    rehearsal = models.JSONField(default=dict)
    """What came of rehearsing the job, with the key of what was rehearsed."""
    stack = models.JSONField(default=dict)
    """The stack of fabric that is made of it, as the core's JSON; empty: none."""
    revision = models.ForeignKey("Revision", null=True, on_delete=models.SET_NULL, related_name="+")
    version = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Due first."""

        ordering = [models.F("due").asc(nulls_last=True), "id"]


class Order(models.Model):
    """The order of a job, as the core's JSON."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE)
    data = models.JSONField(default=dict)


class ToolSetting(models.Model):
    """A job's own tool setting for one role, where it differs from the default."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="tools")
    role = models.CharField(max_length=20)
    data = models.JSONField()

    class Meta:
        """One setting for a role."""

        constraints = [models.UniqueConstraint(fields=["job", "role"], name="one_tool_per_role")]


class ShopTool(models.Model):
    """A setting of the shop for a role on a material at a destination's cutter. Never changed; the last one counts.

    ``data`` is a setting as ``cutting.Tool`` has it; ``seen`` what a test cut with the one before has shown, empty
    where it was typed in. ``confirmed`` where whoever kept it may change the Shelf.
    """

    destination = models.ForeignKey(Destination, on_delete=models.CASCADE)
    material = models.ForeignKey(Material, on_delete=models.CASCADE)
    role = models.CharField(max_length=20)
    number = models.PositiveIntegerField()
    data = models.JSONField()
    seen = models.CharField(max_length=20, blank=True)
    confirmed = models.BooleanField(default=False)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within what it is for."""

        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["destination", "material", "role", "number"], name="shop_tool_version")
        ]


class PerforationPattern(models.Model):
    """A perforation that the shop has given a name: its cuts and ties in mm, and the force in the ties in gf."""

    name = models.CharField(max_length=60, unique=True)
    cut_mm = models.FloatField()
    tie_mm = models.FloatField()
    tie_force_gf = models.FloatField(default=0)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    when = models.DateTimeField(auto_now=True)

    class Meta:
        """By their names."""

        ordering = ["name"]


class Revision(models.Model):
    """A state of the artwork in its working form; the first one comes from the customer's file."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT)
    sha256 = models.CharField(max_length=64)
    file_name = models.CharField(max_length=255)
    said = models.TextField(blank=True)
    steps = models.JSONField(default=list)
    """The mends that made it, as the core's JSON: what a recipe is made of."""
    proof = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a job."""

        constraints = [models.UniqueConstraint(fields=["job", "number"], name="revision_number")]


class Analysis(models.Model):
    """What the core found on a revision under an order; ``key`` tells which of both."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE)
    key = models.CharField(max_length=64)
    seen = models.JSONField(default=dict)
    """Page, boxes, inks, layers and the lines to be drawn."""
    report = models.JSONField(default=dict)
    cards = models.JSONField(default=list)
    """The findings as they are shown, with the mends that answer them."""
    sheet = models.JSONField(default=dict)
    cut = models.JSONField(default=dict)
    more = models.JSONField(default=dict)
    """Further sheets and how they are cut, where the copies take more than one."""
    art_sha256 = models.CharField(max_length=64, blank=True)
    plates = models.JSONField(default=dict)
    """The plates of the page, as one array by its content, with the inks and the ink load."""
    summary = models.JSONField(default=dict)
    """What a list of jobs needs of all this, so that it need not be read for that."""
    thumb = models.JSONField(default=list)
    """The lines of a small picture of the page."""
    edges = models.CharField(max_length=64, blank=True)
    """The edge map, as JSON by its content."""
    terms = models.CharField(max_length=64, blank=True)
    """What the check went by beside the artwork and its limits: only then an outcome may be carried over."""
    checked = models.CharField(max_length=64, blank=True)
    """The content of the revision that was checked."""
    code = models.CharField(max_length=64, blank=True)
    """The fingerprint of the code that found it."""
    when = models.DateTimeField(auto_now=True)
    error = models.TextField(blank=True)


class WorkKind(models.TextChoices):
    """What the worker can be asked for."""

    TAKE_IN = "take-in"
    ANALYSE = "analyse"
    TRY_SHEET = "try-sheet"
    MEND = "mend"
    PREVIEW = "preview"
    RELEASE = "release"
    RIP = "rip"
    SCAN = "scan"
    REHEARSE = "rehearse"
    NEST = "nest"
    SHEET = "sheet"
    STACK = "stack"


class WorkState(models.TextChoices):
    """How far a piece of work is, or how it ended. Stopped by a person is no failure."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Work(models.Model):
    """A piece of long work as people see it: what it does, how far it is, how it ended. The rows are the queue.

    A worker that takes a row holds it until ``leased_until``, and puts that off while it works. When the worker
    dies the lease runs out, and the row is taken up again: at most so many times.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="works")
    shared = models.ForeignKey("SharedSheet", null=True, on_delete=models.CASCADE, related_name="works")
    kind = models.CharField(max_length=20, choices=WorkKind.choices)
    arguments = models.JSONField(default=dict)
    state = models.CharField(max_length=12, choices=WorkState.choices, default=WorkState.WAITING)
    share = models.FloatField(default=0)
    what = models.CharField(max_length=200, default="waiting")
    error = models.TextField(blank=True)
    code = models.CharField(max_length=40, blank=True)
    cancel = models.BooleanField(default=False)
    result = models.JSONField(null=True)
    worker = models.CharField(max_length=60, blank=True)
    attempts = models.PositiveIntegerField(default=0)
    leased_until = models.DateTimeField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Found quickly by their state."""

        indexes = [models.Index(fields=["state", "id"], name="work_by_state")]


class RipState(models.TextChoices):
    """What has become of a print PDF at the RIP."""

    WAITING = "waiting"
    DONE = "done"
    REFUSED = "refused"


class Release(models.Model):
    """A package that was handed over; files by content hash.

    ``key`` is what it was made of, as of an analysis: the same is released once.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="releases")
    shared = models.ForeignKey("SharedSheet", null=True, on_delete=models.PROTECT, related_name="releases")
    sheet_number = models.PositiveIntegerField(default=1)
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    key = models.CharField(max_length=64, null=True)
    files = models.JSONField()
    ticket = models.JSONField()
    worst_off_mm = models.FloatField()
    rip_state = models.CharField(max_length=12, choices=RipState.choices, default=RipState.WAITING)
    rip_refused = models.TextField(blank=True)
    plates = models.JSONField(default=list)
    preset = models.CharField(max_length=20, blank=True)
    """The hot folder by which it was printed."""
    printed = models.DateTimeField(null=True)
    picture = models.CharField(max_length=64, blank=True)
    """The sheet as it came out of the printer, as PNG by its content."""
    longer = models.FloatField(default=0)
    """By which fraction it came out longer along the feed."""
    dry = models.BooleanField(default=False)
    """Whether somebody has waited for it to dry."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for each sheet of a state of a job."""

        constraints = [models.UniqueConstraint(fields=["job", "key", "sheet_number"], name="one_release_of_a_state")]


class StackPackage(models.Model):
    """The files of a stack of fabric, by content hash, and how far the machines have come with them.

    ``key`` is what it was made of: the same is written once. ``facts`` is what is told of it, with what the machines
    need to know of each layer. ``cut`` are the layers that were cut, in their order, each with where the zero was then,
    in mm from the first; ``origin`` is where it is now.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="stacks")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    key = models.CharField(max_length=64)
    stack = models.JSONField()
    files = models.JSONField()
    facts = models.JSONField()
    cut = models.JSONField(default=list)
    origin = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for a state of a job's stack."""

        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_package_of_a_stack")]


class Loading(models.Model):
    """A released sheet laid into the cutter: how it lies, what was seen of its marks, how far its cut has come.

    ``laying`` is the core's; ``seen`` are the marks with where each lies before the cutter. ``front`` is the loading
    with which the front was cut, of a sheet that lies face down. ``shifts`` are origins set anew between operations.
    """

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="loadings")
    laying = models.JSONField()
    front = models.ForeignKey("self", null=True, on_delete=models.SET_NULL)
    seen = models.JSONField(default=list)
    code = models.CharField(max_length=200, null=True)
    shifts = models.JSONField(default=dict)
    stood_s = models.FloatField(default=0)
    cut = models.BooleanField(default=False)
    """Whether it has been cut to the end."""
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    created = models.DateTimeField(auto_now_add=True)


class PointerOffset(models.Model):
    """Where the pointer of a destination's cutter shines, from the blade, in mm; the last one counts."""

    destination = models.ForeignKey(Destination, on_delete=models.CASCADE)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    when = models.DateTimeField(auto_now_add=True)


class SharedSheet(models.Model):
    """A sheet, or several, that holds copies of several jobs: an object of its own.

    ``found`` is what was laid out, as the core's JSON; ``key`` what that depends on. ``job`` of its work is the first
    job on it.
    """

    name = models.CharField(max_length=200)
    destination = models.ForeignKey(Destination, on_delete=models.PROTECT)
    material = models.ForeignKey(Material, on_delete=models.PROTECT)
    layout = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    found = models.JSONField(default=dict)
    key = models.CharField(max_length=64, blank=True)
    error = models.TextField(blank=True)
    rehearsal = models.JSONField(default=dict)
    """What came of rehearsing the sheet, with the key of what was rehearsed."""
    log = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)


class Share(models.Model):
    """What a job has on a shared sheet. ``made_of`` is the state of the job that lies there."""

    sheet = models.ForeignKey(SharedSheet, on_delete=models.CASCADE, related_name="shares")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="shares")
    position = models.PositiveIntegerField(default=0)
    quantity = models.PositiveIntegerField()
    turn = models.CharField(max_length=10, default="quarter")
    made_of = models.CharField(max_length=64, blank=True)
    changed = models.CharField(max_length=200, blank=True)
    """What of the job was made anew since a person has looked at the sheet, in words."""

    class Meta:
        """In the order in which they were put on it."""

        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["sheet", "job"], name="one_share_of_a_job")]


class LogEntry(models.Model):
    """Who did what to a job, and when. Never changed. ``version`` is the job's after it, 0 where it changed none."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="log")
    version = models.PositiveIntegerField(default=0)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    what = models.TextField()
    when = models.DateTimeField(auto_now_add=True)


class Decision(models.Model):
    """A finding that a person let stand, with the reason. It holds while the finding stays as it was."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="decisions")
    key = models.CharField(max_length=40)
    check_id = models.CharField(max_length=40)
    subject = models.CharField(max_length=200, blank=True)
    severity = models.CharField(max_length=8)
    message = models.TextField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    reason = models.TextField()
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for a finding; waving a stop through is a right of its own."""

        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_decision_per_finding")]
        permissions = [("waive_stop", "May let a stop pass")]


class Recipe(models.Model):
    """A sequence of mends under a name; its steps stand in its versions."""

    name = models.CharField(max_length=200, unique=True)


class RecipeVersion(models.Model):
    """A state of a recipe. Never changed; the last one counts.

    ``bound`` says to which customers, destinations and kinds of findings it fits, each a list.
    """

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    steps = models.JSONField()
    bound = models.JSONField(default=dict)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a recipe."""

        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["recipe", "number"], name="recipe_version_number")]


class CheckSheet(models.Model):
    """The check sheet of the shop, a destination, a material or a customer; its limits stand in its versions."""

    scope = models.CharField(max_length=12)
    subject = models.CharField(max_length=200, blank=True)

    class Meta:
        """One for each thing."""

        constraints = [models.UniqueConstraint(fields=["scope", "subject"], name="one_sheet_per_thing")]
        permissions = [("edit_shelf", "May change what lies on the Shelf")]


class CheckSheetVersion(models.Model):
    """A state of a check sheet, as the core's JSON. Never changed; the last one counts."""

    sheet = models.ForeignKey(CheckSheet, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    data = models.JSONField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a sheet."""

        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["sheet", "number"], name="sheet_version_number")]
