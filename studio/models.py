"""What is stored: projects, their revisions, photos, what was delivered, and the shelf."""

from django.conf import settings
from django.db import models
from django.urls import reverse

import sheet

from .storage import Stored, photo_key, preview_key


class Project(models.Model):
    """What a person opens: a sheet with its history. `head` is the revision shown, `made` how many there are."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="projects")
    name = models.CharField(max_length=80)
    head = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    made = models.PositiveIntegerField(default=0)
    last_command = models.CharField(max_length=64, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)
    delivery = models.JSONField(default=dict, blank=True)
    """What was ordered last (`sheet.delivery.Order`)."""

    class Meta:
        ordering = ["-updated", "-id"]

    def __str__(self) -> str:
        return self.name

    def get_absolute_url(self) -> str:
        """Return the editor's address."""
        return reverse("editor", args=[self.pk])


class Revision(models.Model):
    """One state of a project's sheet, and the words for what made it out of `parent`."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    label = models.CharField(max_length=200)
    command = models.CharField(max_length=64, blank=True)
    data = models.BinaryField()
    made = models.DateTimeField(auto_now_add=True)

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
        """The sheet of this revision."""
        return sheet.load(bytes(self.data))


class PhotoFile(models.Model):
    """A photo that a person brought in; its bytes lie in media storage under their SHA-256."""

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
    """The box (px) outside of which it is wholly transparent; null where that is all of it, or it is opaque."""
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


class Delivery(models.Model):
    """What was delivered of a revision: the order, and its files as they lie in the storage."""

    UNDER_WAY, READY, FAILED, STOPPED = "under way", "ready", "failed", "stopped"

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="deliveries")
    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=240)
    """Of the file that a person gets."""
    order = models.JSONField()
    files = models.JSONField()
    """Of each file its `name`, storage `key`, `job`, `width` and `height` (px)."""
    size = models.PositiveBigIntegerField(default=0)
    state = models.CharField(max_length=10, default=UNDER_WAY)
    why = models.CharField(max_length=500, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.name


class ShelfItem(models.Model):
    """An outline that a person keeps for next time, in one or more proportions, each in versions."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="shelf")
    name = models.CharField(max_length=80)
    tags = models.CharField(max_length=200, blank=True)
    """Words, parted by spaces."""
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
    """One state of a kept outline in one proportion: a stored sheet of its size with nothing else on it.

    `variant` is "" for the proportion it was kept in; one that `follows` is made anew
    whenever that gets another version.
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
