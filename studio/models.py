"""The database: projects, their revisions, photos, exports, the shelf, and batches."""

from uuid import uuid4

from django.conf import settings
from django.db import models
from django.urls import reverse

import sheet

from .history.stored import sheet_of
from .storage import Stored, photo_key, preview_key


class Project(models.Model):
    """A sheet with its history, as a person opens it. `head` is the revision shown, `made` how many there are."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="projects")
    name = models.CharField(max_length=80)
    head = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    made = models.PositiveIntegerField(default=0)
    last_command = models.CharField(max_length=64, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)
    export = models.JSONField(default=dict, blank=True)
    """The last order (`sheet.export.Order`)."""

    class Meta:
        ordering = ["-updated", "-id"]

    def __str__(self) -> str:
        return self.name

    def get_absolute_url(self) -> str:
        """Return the editor's address."""
        return reverse("editor", args=[self.pk])


class Revision(models.Model):
    """One state of a project's sheet, and the label of the step that made it from `parent`."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    label = models.CharField(max_length=200)
    command = models.CharField(max_length=64, blank=True)
    name = models.CharField(max_length=80, blank=True)
    """A person's own name for it."""
    data = models.BinaryField(null=True)
    """The stored sheet; null if it is rebuilt from its key and the steps since (`history/stored.py`)."""
    step = models.BinaryField(null=True)
    """The difference to its parent (`history/deltas.py`)."""
    key = models.PositiveIntegerField(default=0)
    """The number of the nearest earlier revision that is whole, or its own."""
    weight = models.PositiveIntegerField(default=0)
    """Bytes of the steps since then."""
    made = models.DateTimeField(auto_now_add=True)
    whole: bytes | None = None
    """The stored sheet, once it was rebuilt."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["project", "number"], name="one_revision_per_number"),
            models.UniqueConstraint(
                fields=["project", "command"], condition=~models.Q(command=""), name="each_command_once"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.project_id}#{self.number} {self.label}"

    @property
    def sheet(self) -> sheet.Sheet:
        """The sheet of this revision. Raises SheetError if it is damaged."""
        return sheet_of(self)


class PhotoUse(models.Model):
    """A photo that some revision of a project uses."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="uses")
    sha256 = models.CharField(max_length=64)
    cleared = models.BooleanField(default=False)
    """Cleared from the tray while it was not on the sheet; using it again brings it back."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "sha256"], name="each_use_once")]

    def __str__(self) -> str:
        return self.sha256


class PhotoFile(models.Model):
    """A photo that a person imported; its bytes are in media storage under their SHA-256."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="photos")
    sha256 = models.CharField(max_length=64)
    name = models.CharField(max_length=200)
    format = models.CharField(max_length=8)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    size = models.PositiveBigIntegerField()
    resolution = models.FloatField(null=True)
    has_alpha = models.BooleanField(default=False)
    shown = models.JSONField(null=True)
    """The box (px) of what is not wholly transparent; null for all of it."""
    interest = models.JSONField(null=True)
    """Its point of interest, in shares of its sides; null if not computed yet."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "sha256"], name="each_photo_once")]

    def __str__(self) -> str:
        return self.name

    @property
    def original(self) -> Stored:
        """The untouched file."""
        return Stored(photo_key(self.sha256))

    @property
    def preview(self) -> Stored:
        """The screen's small copy."""
        return Stored(preview_key(self.sha256))

    @property
    def preview_type(self) -> str:
        """The media type of the preview."""
        return "image/webp" if self.has_alpha else "image/jpeg"


class OwnFile(models.Model):
    """A font or print profile that a person imported; its file is in media storage under its digest."""

    FONT, PROFILE = "font", "profile"
    USES = ((FONT, "font"), (PROFILE, "print profile"))
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="own_files")
    use = models.CharField(max_length=8, choices=USES, default=FONT)
    digest = models.CharField(max_length=32)
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=40, blank=True)
    size = models.PositiveBigIntegerField()
    removed = models.BooleanField(default=False)
    """Off the lists; sheets and exports that use it keep it."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "use", "digest"], name="each_own_file_once")]

    def __str__(self) -> str:
        return self.name


class Export(models.Model):
    """An export of a revision: the order, and its files in the storage."""

    UNDER_WAY, READY, FAILED, STOPPED = "under way", "ready", "failed", "stopped"

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="exports")
    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=240)
    """The name of the downloaded file."""
    order = models.JSONField()
    files = models.JSONField()
    """For each file its `name`, storage `key`, `job`, `width` and `height` (px)."""
    size = models.PositiveBigIntegerField(default=0)
    state = models.CharField(max_length=10, default=UNDER_WAY)
    why = models.CharField(max_length=500, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.name


def new_key() -> str:
    """Return an unused key."""
    return uuid4().hex


class ShelfItem(models.Model):
    """An outline on a person's shelf, in one or more proportions, each in versions."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="shelf")
    key = models.CharField(max_length=32, unique=True, default=new_key, editable=False)
    """The key by which items refer to it: unique among all outlines, on any server."""
    name = models.CharField(max_length=80)
    tags = models.CharField(max_length=200, blank=True)
    """Tags, separated by spaces."""
    made = models.PositiveIntegerField(default=0)
    """The number of the newest version."""
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-updated", "-id"]

    def __str__(self) -> str:
        return self.name


class ShelfVersion(models.Model):
    """One state of a shelf outline in one proportion: a stored sheet of its size with nothing else on it.

    `variant` is "" for the original proportion; one that `follows` is made again
    for every new version of that.
    """

    item = models.ForeignKey(ShelfItem, on_delete=models.CASCADE, related_name="versions")
    variant = models.CharField(max_length=10, blank=True)
    number = models.PositiveIntegerField()
    follows = models.BooleanField(default=False)
    data = models.BinaryField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["item", "variant", "-number"]
        constraints = [models.UniqueConstraint(fields=["item", "variant", "number"], name="one_version_per_number")]

    def __str__(self) -> str:
        return f"{self.item_id} {self.variant} {self.number}"

    @property
    def sheet(self) -> sheet.Sheet:
        """The sheet of this version."""
        return sheet.load(bytes(self.data))


class Batch(models.Model):
    """One frame, or a sheet with several, over many photos. It uses the sheet as it was at the start."""

    DRAFT, UNDER_WAY, DONE, STOPPED = "draft", "under way", "done", "stopped"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="batches")
    project = models.ForeignKey(Project, null=True, on_delete=models.SET_NULL, related_name="batches")
    name = models.CharField(max_length=80)
    frames = models.JSONField()
    """Ids of the frames on the sheet that get photos, in turn."""
    sheets = models.JSONField()
    """Storage keys of the sheet, and of it with its frame in other proportions, by their words; "" is the sheet."""
    where = models.CharField(max_length=10, default="centred")
    order = models.JSONField(default=dict)
    state = models.CharField(max_length=10, default=DRAFT)
    contact = models.JSONField(default=dict)
    """The last contact sheet: its storage `key` and `job`."""
    made = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-updated", "-id"]

    def __str__(self) -> str:
        return self.name

    def get_absolute_url(self) -> str:
        """Return its page's address."""
        return reverse("batch", args=[self.pk])


class BatchPhoto(models.Model):
    """A photo of a batch: its place if set by hand, and the state of its file."""

    NEW, WAITING, DONE, FAILED, STOPPED = "new", "waiting", "done", "failed", "stopped"

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="photos")
    position = models.PositiveIntegerField()
    photo = models.ForeignKey(PhotoFile, on_delete=models.CASCADE, related_name="+")
    seat = models.JSONField(null=True)
    """Its place (`sheet.batches.Seat`); null to follow the rule."""
    state = models.CharField(max_length=8, default=NEW)
    key = models.CharField(max_length=160, blank=True)
    job = models.CharField(max_length=40, blank=True)
    name = models.CharField(max_length=140, blank=True)
    """The name of its file."""
    why = models.CharField(max_length=500, blank=True)
    size = models.PositiveBigIntegerField(default=0)

    class Meta:
        ordering = ["batch", "position"]
        constraints = [models.UniqueConstraint(fields=["batch", "position"], name="one_photo_a_place")]

    def __str__(self) -> str:
        return f"{self.batch_id} {self.position}"
